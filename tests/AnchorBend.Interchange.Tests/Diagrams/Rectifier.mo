model Rectifier "A rectifier with a smoothing capacitor"
  SineVoltage source(V = 10, fr = 2);
  Resistor winding(R = 0.5);
  Diode diode;
  Capacitor c(C = 0.05);
  Resistor load(R = 20);
  Ground ground;
  VoltageSensor at;
equation
  connect(source.p, winding.p);
  connect(winding.n, diode.p);
  connect(diode.n, c.p);
  connect(c.n, source.n);
  connect(load.p, c.p);
  connect(load.n, source.n);
  connect(ground.p, source.n);
  connect(at.p, c.p);
  connect(at.n, c.n);
end Rectifier;
// values: a general numeric library at 3e-14
// 0.1 at.y 7.008212683962012
// 0.63 at.y 8.520601055228555
// 2.2 at.y 8.283700071792355
