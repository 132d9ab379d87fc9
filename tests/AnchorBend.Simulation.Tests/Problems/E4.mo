model E4 "Non-stiff problem set, class E"
  Real y[2](start = {30.0, 0.0}, each fixed = true);
equation
  der(y[1]) = y[2];
  der(y[2]) = 0.032-0.4*y[2]^2;
end E4;
// scale 1.0
// 2.0: 30.0634612092 0.06292964879369
// 12.0: 31.82146350726 0.2477265837047
// 20.0: 33.95091444647 0.2767822659673
