model Walls "Heat through two bodies"
  FixedTemperature sea(T = 280);
  Conduction skin(G = 2);
  HeatCapacity hull(C = 400, T0 = 330);
  Conduction core(G = 3);
  HeatCapacity hold(C = 900, T0 = 300);
  TemperatureSensor at;
equation
  connect(sea.b, skin.a);
  connect(skin.b, hull.a);
  connect(hull.a, core.a);
  connect(core.b, hold.a);
  connect(hold.a, at.a);
end Walls;
// values: matrix exponential
// 50.0 at.y 303.106112158452
// 400.0 at.y 298.42819650969966
// 2000.0 at.y 283.0075719871156
