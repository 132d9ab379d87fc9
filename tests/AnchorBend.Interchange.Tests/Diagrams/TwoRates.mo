model TwoRates "Two rates, one beside the other"
  Sine sine(f = 0.3);
  SampleHold hold(T = 0.1, offset = 0.05);
  SampledLag lag(T = 0.25, k = 2, tau = 0.6);
equation
  connect(sine.y, hold.u);
  connect(hold.y, lag.u);
end TwoRates;
// values: the recursion by hand
// 1.1 lag.y 1.144607651364122
// 4.9 lag.y 1.3483780900867381
