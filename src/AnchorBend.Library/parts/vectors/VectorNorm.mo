block VectorNorm "Length of a vector"
  parameter Integer n(min = 1, max = 50) = 3 "Number of elements";
  input Real u[n] "Elements" annotation(__AnchorBend(vector = true));
  output Real y "Length";
equation
  y = sqrt(u * u);
  annotation(__AnchorBend(group = "Vectors", face = "\\lVert u \\rVert", keywords = "norm length magnitude vector Euclid", width = 64, help = "Root of the sum of squares.", validity = "Its slope is not defined where all elements are zero."));
end VectorNorm;
