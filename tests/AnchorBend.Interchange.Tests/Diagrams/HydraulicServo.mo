model HydraulicServo "A cylinder moves a mass to its place through a proportional valve"
  Constant supply(k = 1.2e7);
  PressureSource source;
  Reservoir tank;
  FourWayValve valve(f = 60);
  Cylinder cylinder(pA0 = 3e6, pB0 = 4e6);
  Mass load(m = 80, s0 = 0.05);
  TranslationalFixed wall;
  Damper friction(d = 300);
  MotionSensor sensor;
  Step r(height = 0.2, startTime = 0.3);
  Sum e(signs = {1, -1});
  Gain k(k = 6);
equation
  connect(supply.y, source.u);
  connect(source.b, valve.p);
  connect(tank.a, valve.t);
  connect(valve.a, cylinder.a);
  connect(valve.b, cylinder.b);
  connect(cylinder.base, wall.a);
  connect(cylinder.rod, load.a);
  connect(friction.a, wall.a);
  connect(friction.b, load.a);
  connect(sensor.a, load.a);
  connect(r.y, e.u[1]);
  connect(sensor.s, e.u[2]);
  connect(e.y, k.u);
  connect(k.y, valve.u);
end HydraulicServo;
// values: a general numeric library at 1e-11
// 0.2 load.s 0.03062611532072572
// 0.2 cylinder.pA 6283821.952177463
// 0.2 cylinder.pB 8967324.6208979
// 0.8 load.s 0.16085005020844062
// 0.8 cylinder.pA 3165263.6889014305
// 0.8 cylinder.pB 4431407.624850658
// 2.5 load.s 0.19979108807655344
// 2.5 cylinder.pA 3179665.463673689
// 2.5 cylinder.pB 4499261.786037701
