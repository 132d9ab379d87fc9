model RadiatingMasses "Heat from a wave through two masses, radiated away"
  HeatCapacity c1(C = 500, T0 = 350);
  HeatCapacity c2(C = 2000, T0 = 300);
  HeatCapacity c3(C = 50, T0 = 290);
  Conduction k(G = 20);
  Radiation r(G = 0.5);
  FixedTemperature sky(T = 280);
  Convection cv;
  Sine wave(f = 0.01, amplitude = 200, offset = 300);
  SignalHeat heater;
equation
  connect(c1.a, k.a);
  connect(k.b, c2.a);
  connect(c2.a, r.a);
  connect(r.b, sky.b);
  connect(c1.a, cv.a);
  connect(cv.b, c3.a);
  connect(wave.y, heater.u);
  connect(heater.b, c3.a);
end RadiatingMasses;
// values: a general numeric library at 3e-14
// 10.0 c1.T 334.4629101689069
// 10.0 c2.T 303.52387290557607
// 10.0 c3.T 364.3079139008419
// 100.0 c1.T 324.4983633158076
// 100.0 c2.T 315.46029346041814
// 100.0 c3.T 348.61011899184405
// 600.0 c1.T 351.5547213251846
// 600.0 c2.T 341.66824933886573
// 600.0 c3.T 375.8066146295884
