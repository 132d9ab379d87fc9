model E2 "Non-stiff problem set, class E"
  Real y[2](start = {2.0, 0.0}, each fixed = true);
equation
  der(y[1]) = y[2];
  der(y[2]) = (1-y[1]^2)*y[2]-y[1];
end E2;
// scale 1.0
// 2.0: 0.3233166670462 -1.832974567986
// 12.0: -0.3137690988899 1.84402695753
// 20.0: 2.008149762175 -0.04250887527314
