block CrossProduct "Vector product"
  input Real a[3] "First vector" annotation(__AnchorBend(vector = true));
  input Real b[3] "Second vector" annotation(__AnchorBend(vector = true));
  output Real y[3] "Vector product" annotation(__AnchorBend(vector = true));
equation
  y[1] = a[2] * b[3] - a[3] * b[2];
  y[2] = a[3] * b[1] - a[1] * b[3];
  y[3] = a[1] * b[2] - a[2] * b[1];
  annotation(__AnchorBend(group = "Vectors", face = "a \\times b", keywords = "cross vector product torque", width = 64, help = "At right angles to both, by the right-hand rule.", validity = "Vectors in space, of three elements."));
end CrossProduct;
