model Motor "A motor runs up"
  VoltageSource source(V = 24);
  Resistor r(R = 1.5);
  Inductor l(L = 0.02);
  MotorConstant motor(k = 0.3);
  Inertia rotor(J = 0.04);
  TorsionDamper friction(d = 0.01);
  FixedShaft frame;
  Ground ground;
  RotationSensor speed;
equation
  connect(source.p, r.p);
  connect(r.n, l.p);
  connect(l.n, motor.p);
  connect(motor.n, source.n);
  connect(ground.p, source.n);
  connect(motor.b, rotor.a);
  connect(rotor.b, friction.a);
  connect(friction.b, frame.a);
  connect(rotor.b, speed.a);
end Motor;
// values: matrix exponential
// 0.01 speed.w 0.35515707551423836
// 0.3 speed.w 27.450590632708806
// 2.0 speed.w 66.59895548119891
// 0.3 l.i 10.710573707551276
