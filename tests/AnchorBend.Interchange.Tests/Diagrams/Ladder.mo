model Ladder "A ladder of resistors and capacitors"
  VoltageSource source(V = 5);
  Ground ground;
  VoltageSensor sensor;
  Resistor r1(R = 10);
  Capacitor c1(C = 0.02);
  Resistor r2(R = 10);
  Capacitor c2(C = 0.02);
  Resistor r3(R = 10);
  Capacitor c3(C = 0.02);
  Resistor r4(R = 10);
  Capacitor c4(C = 0.02);
equation
  connect(ground.p, source.n);
  connect(source.p, r1.p);
  connect(r1.n, c1.p);
  connect(c1.n, source.n);
  connect(r1.n, r2.p);
  connect(r2.n, c2.p);
  connect(c2.n, source.n);
  connect(r2.n, r3.p);
  connect(r3.n, c3.p);
  connect(c3.n, source.n);
  connect(r3.n, r4.p);
  connect(r4.n, c4.p);
  connect(c4.n, source.n);
  connect(sensor.p, r4.n);
  connect(sensor.n, source.n);
end Ladder;
// values: matrix exponential
// 0.2 sensor.y 0.05929658419076925
// 1.0 sensor.y 1.6159219565877403
// 5.0 sensor.y 4.695748955448737
