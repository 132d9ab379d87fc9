block DotProduct "Scalar product"
  parameter Integer n(min = 1, max = 50) = 3 "Length";
  input Real a[n] "First vector" annotation(__AnchorBend(vector = true));
  input Real b[n] "Second vector" annotation(__AnchorBend(vector = true));
  output Real y "Scalar product";
equation
  y = a * b;
  annotation(__AnchorBend(group = "Vectors", face = "a \\cdot b", keywords = "scalar dot inner product vector", width = 64, help = "Sum of the products of the elements.", validity = "Both vectors of the same length."));
end DotProduct;
