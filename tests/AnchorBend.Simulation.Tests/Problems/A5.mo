model A5 "Non-stiff problem set, class A"
  Real y[1](start = {4.0}, each fixed = true);
equation
  der(y[1]) = (y[1]-time)/(y[1]+time);
end A5;
// scale 1.0
// 2.0: 5.356836674117
// 12.0: 4.973658062284
// 20.0: -0.7887826688957
