model rope "Driven pendulum"
  Real y[2](start = {1.0, 0.0}, each fixed = true);
equation
  der(y[1]) = y[2];
  der(y[2]) = -sin(y[1])-0.01*y[2]+0.3*cos(1.1*time);
end rope;
// scale 1.0
// 6.0: 0.4427140232772 1.44365235638
// 36.0: -0.211539801312 1.80047940092
// 60.0: 1.924198681279 -0.1692380539768
