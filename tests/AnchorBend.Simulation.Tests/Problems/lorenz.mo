model lorenz "Lorenz' equations over a short time"
  Real y[3](start = {1.0, 1.0, 1.0}, each fixed = true);
equation
  der(y[1]) = 10*(y[2]-y[1]);
  der(y[2]) = y[1]*(28-y[3])-y[2];
  der(y[3]) = y[1]*y[2]-8/3*y[3];
end lorenz;
// scale 1
// 0.8: -8.635509302656 -10.09563918798 25.64672605093
// 4.8: -8.537858329134 -6.459271619529 29.57383801561
// 8.0: -7.012491593515 -4.585886040704 28.38545829551
