model A1 "Non-stiff problem set, class A"
  Real y[1](start = {1.0}, each fixed = true);
equation
  der(y[1]) = -y[1];
end A1;
// scale 1.0
// 2.0: 0.1353352832366
// 12.0: 6.144212388219e-06
// 20.0: 2.061154264358e-09
