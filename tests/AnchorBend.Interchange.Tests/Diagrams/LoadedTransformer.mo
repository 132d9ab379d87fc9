model LoadedTransformer "A capacitor behind an ideal transformer"
  SineVoltage source(V = 8, fr = 0.5);
  CurrentSensor amps;
  Transformer t(ratio = 2);
  Capacitor c(C = 0.3, hold = false);
  Ground g1;
  Ground g2;
equation
  connect(source.p, amps.p);
  connect(amps.n, t.p1);
  connect(t.n1, source.n);
  connect(g1.p, source.n);
  connect(t.p2, c.p);
  connect(c.n, t.n2);
  connect(g2.p, t.n2);
end LoadedTransformer;
// values: closed form
// 0.3 amps.y 1.1079490982942741
// 1.9 amps.y 1.7926992988449335
