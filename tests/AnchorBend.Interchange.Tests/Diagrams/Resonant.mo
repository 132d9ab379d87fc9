model Resonant "A resonant circuit"
  VoltageSource source(V = 10);
  Resistor r(R = 2);
  Inductor l(L = 0.5);
  Capacitor c(C = 0.1);
  Ground ground;
  VoltageSensor sensor;
equation
  connect(source.p, r.p);
  connect(r.n, l.p);
  connect(l.n, c.p);
  connect(c.n, source.n);
  connect(ground.p, source.n);
  connect(sensor.p, c.p);
  connect(sensor.n, c.n);
end Resonant;
// values: matrix exponential
// 0.3 sensor.y 5.45376900077672
// 1.7 sensor.y 9.627402737224502
// 4.0 sensor.y 10.003695493674968
// 0.3 l.i 2.5575694783662724
// 1.7 l.i 0.08245089129275107
