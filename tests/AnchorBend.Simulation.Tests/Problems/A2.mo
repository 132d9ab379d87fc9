model A2 "Non-stiff problem set, class A"
  Real y[1](start = {1.0}, each fixed = true);
equation
  der(y[1]) = -y[1]^3/2;
end A2;
// scale 1.0
// 2.0: 0.5773502691896
// 12.0: 0.2773500981126
// 20.0: 0.218217890236
