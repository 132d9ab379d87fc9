model B2 "Non-stiff problem set, class B"
  Real y[3](start = {2.0, 0.0, 1.0}, each fixed = true);
equation
  der(y[1]) = -y[1]+y[2];
  der(y[2]) = y[1]-2*y[2]+y[3];
  der(y[3]) = y[2]-y[3];
end B2;
// scale 1.0
// 2.0: 1.068907017707 0.9975212478233 0.93357173447
// 12.0: 1.000003072106 1 0.9999969278938
// 20.0: 1.000000001031 1 0.9999999989694
