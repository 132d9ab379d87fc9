block PolarToCartesian "Length and angle to elements"
  input Real r "Length";
  input Real phi(unit = "rad") "Angle";
  output Real x "Along";
  output Real y "Across";
equation
  x = r * cos(phi);
  y = r * sin(phi);
  annotation(__AnchorBend(group = "Vectors", face = "r\\angle\\varphi", keywords = "polar cartesian coordinates vector", width = 64, help = "Elements of a vector given by length and angle.", validity = "Exact."));
end PolarToCartesian;
