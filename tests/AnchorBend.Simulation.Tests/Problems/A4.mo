model A4 "Non-stiff problem set, class A"
  Real y[1](start = {1.0}, each fixed = true);
equation
  der(y[1]) = y[1]/4*(1-y[1]/20);
end A4;
// scale 1.0
// 2.0: 1.596923363036
// 12.0: 10.27773366023
// 20.0: 17.73016648131
