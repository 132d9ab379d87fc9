model E3 "Non-stiff problem set, class E"
  Real y[2](start = {0.0, 0.0}, each fixed = true);
equation
  der(y[1]) = y[2];
  der(y[2]) = y[1]^3/6-y[1]+2*sin(2.78535*time);
end E3;
// scale 1.0
// 2.0: 1.013027100052 -0.8098744277601
// 12.0: -1.120980675598 0.4146975582772
// 20.0: -0.1004178858641 0.2411400132096
