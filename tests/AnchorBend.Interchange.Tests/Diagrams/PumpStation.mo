model PumpStation "A pump fills an accumulator through a line, with a relief valve and a leak"
  ShaftSpeedSource drive;
  Step speed(height = 150, offset = 10, startTime = 0.2);
  Pump pump;
  Reservoir tank;
  Volume chamber(p0 = 8e6);
  Line pipe(l = 12);
  Accumulator store(p0 = 8e6);
  Orifice load(area = 3e-6);
  ReliefValve relief(pSet = 8.5e6);
equation
  connect(speed.y, drive.u);
  connect(drive.b, pump.shaft);
  connect(tank.a, pump.a);
  connect(pump.b, chamber.a);
  connect(chamber.b, pipe.a);
  connect(pipe.b, store.a);
  connect(store.a, load.a);
  connect(load.b, tank.a);
  connect(chamber.a, relief.a);
  connect(relief.b, tank.a);
end PumpStation;
// values: a general numeric library at 1e-11
// 0.5 chamber.p 7769165.449475577
// 0.5 store.fill 0.0005437643922381577
// 0.5 pipe.flow_ 0.00026631332165076577
// 0.5 relief.x 2.691882320210472e-26
// 2.0 chamber.p 7591300.0064951675
// 2.0 store.fill 0.0005136739361512885
// 2.0 pipe.flow_ 0.00025533387317525097
// 2.0 relief.x 1.3858366613315282e-156
// 6.0 chamber.p 7233267.462630071
// 6.0 store.fill 0.0004554973462503861
// 6.0 pipe.flow_ 0.0002553349088859091
// 6.0 relief.x 0.0
