model A3 "Non-stiff problem set, class A"
  Real y[1](start = {1.0}, each fixed = true);
equation
  der(y[1]) = y[1]*cos(time);
end A3;
// scale 1.0
// 2.0: 2.482577728015
// 12.0: 0.5847488044904
// 20.0: 2.491650271852
