model Chopper "A chopped current"
  BooleanPulse pulses(width = 0.4, period = 0.02);
  VoltageSource source(V = 12);
  ElectricalSwitch chopper;
  Resistor leak(R = 50);
  Resistor r(R = 2);
  Inductor l(L = 0.1);
  Ground ground;
  CurrentSensor at;
equation
  connect(pulses.y, chopper.closed);
  connect(source.p, chopper.p);
  connect(chopper.n, leak.p);
  connect(leak.n, source.n);
  connect(chopper.n, r.p);
  connect(r.n, l.p);
  connect(l.n, at.p);
  connect(at.n, source.n);
  connect(ground.p, source.n);
end Chopper;
// values: closed form
// 0.005 at.y 0.5709500367757183
// 0.093 at.y 0.06599682146618403
// 1.011 at.y 0.18671902576239863
