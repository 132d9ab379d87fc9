model Sawtooth1 "An integrator set back by its own output"
  Constant one(k = 0.7);
  ResettableIntegrator ramp(y0 = 0.2);
  Compare full(threshold = 1);
equation
  connect(one.y, ramp.u);
  connect(ramp.y, full.u1);
  connect(full.y, ramp.reset);
end Sawtooth1;
// values: closed form
// 1.0 ramp.y 0.8999999999999999
// 7.9 ramp.y 0.9299999999999999
// 33.3 ramp.y 0.3099999999999939
