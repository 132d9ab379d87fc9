model WinchGear "A motor lifts a load through a gear with losses"
  SignalVoltage supply;
  Resistor r(R = 0.8);
  Inductor l(L = 2e-3);
  MotorConstant motor(k = 0.12);
  Ground ground;
  Inertia rotor(J = 2e-3);
  LossyGear gear(ratio = 20, eta = 0.8, d = 1e-3);
  Inertia drum(J = 0.5);
  Rack rope(r = 0.1);
  Mass load(m = 20);
  Constant weight(k = -196);
  ForceSource gravity;
  RotationSensor sensor;
  Step r_(height = 60, startTime = 0.5);
  PID pi(k = 0.5, Ti = 0.1);
equation
  connect(supply.p, r.p);
  connect(r.n, l.p);
  connect(l.n, motor.p);
  connect(motor.n, ground.p);
  connect(supply.n, ground.p);
  connect(motor.b, rotor.a);
  connect(rotor.b, gear.a);
  connect(gear.b, drum.a);
  connect(drum.b, rope.a);
  connect(rope.b, load.a);
  connect(weight.y, gravity.u);
  connect(gravity.b, load.b);
  connect(sensor.a, rotor.a);
  connect(sensor.w, pi.y);
  connect(r_.y, pi.r);
  connect(pi.u, supply.u);
end WinchGear;
// values: a general numeric library at 1e-11
// 0.3 l.i 6.78023363785977
// 0.3 rotor.w -0.6244215033875794
// 0.9 l.i 10.364786644340247
// 0.9 rotor.w 60.66774742471766
// 3.0 l.i 10.708333333340763
// 3.0 rotor.w 59.999999999983196
