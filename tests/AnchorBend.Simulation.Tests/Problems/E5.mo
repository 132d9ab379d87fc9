model E5 "Non-stiff problem set, class E"
  Real y[2](start = {0.0, 0.0}, each fixed = true);
equation
  der(y[1]) = y[2];
  der(y[2]) = sqrt(1+y[2]^2)/(25-time);
end E5;
// scale 1.0
// 2.0: 0.08227011173718 0.08347826086956
// 12.0: 3.614080842583 0.7015384615385
// 20.0: 14.11797390543 2.4
