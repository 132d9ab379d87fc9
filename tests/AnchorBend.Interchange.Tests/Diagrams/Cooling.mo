model Cooling "A hot body radiates"
  FixedTemperature sky(T = 280);
  Radiation gap(G = 2);
  HeatCapacity body(C = 500, T0 = 900);
  TemperatureSensor at;
equation
  connect(body.a, gap.a);
  connect(gap.b, sky.b);
  connect(body.a, at.a);
end Cooling;
// values: a general numeric library at 3e-14
// 30.0 at.y 376.6079526352332
// 300.0 at.y 280.28464904634643
