model prothero "Prothero and Robinson's problem, stiffness 1e6"
  Real y[1](start = {1.0}, each fixed = true);
equation
  der(y[1]) = -1e6*(y[1]-cos(time))-sin(time);
end prothero;
// scale 1
// 1.0: 0.5403023058681
// 6.0: 0.9601702866504
// 10.0: -0.8390715290765
