model TwoMasses "Two masses between springs"
  TranslationalFixed wall;
  Spring s1(c = 80);
  Damper d1(d = 1.5);
  Mass m1(m = 2, s0 = 0.1);
  Spring s2(c = 30);
  Mass m2(m = 0.5, s0 = -0.05, v0 = 0.4);
  MotionSensor at;
equation
  connect(wall.a, s1.a);
  connect(s1.b, m1.a);
  connect(wall.a, d1.a);
  connect(d1.b, m1.a);
  connect(m1.b, s2.a);
  connect(s2.b, m2.a);
  connect(m2.b, at.a);
end TwoMasses;
// values: matrix exponential
// 0.3 at.s 0.1658014718808743
// 2.0 at.s -0.14655953646884
// 8.0 at.s -0.04496057217672817
