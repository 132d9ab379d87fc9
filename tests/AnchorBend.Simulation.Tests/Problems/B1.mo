model B1 "Non-stiff problem set, class B"
  Real y[2](start = {1.0, 3.0}, each fixed = true);
equation
  der(y[1]) = 2*(y[1]-y[1]*y[2]);
  der(y[2]) = -(y[2]-y[1]*y[2]);
end B1;
// scale 1.0
// 2.0: 0.0849777531112 0.5779527071455
// 12.0: 0.07571545510372 1.432714142329
// 20.0: 0.676187600859 0.186081609964
