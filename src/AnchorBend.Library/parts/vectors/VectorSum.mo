block VectorSum "Sum of two vectors"
  parameter Integer n(min = 1, max = 50) = 3 "Length";
  parameter Real signs[2] = {1, 1} "Factors of the first and the second vector";
  input Real a[n] "First vector" annotation(__AnchorBend(vector = true));
  input Real b[n] "Second vector" annotation(__AnchorBend(vector = true));
  output Real y[n] "Sum" annotation(__AnchorBend(vector = true));
equation
  y = signs[1] * a + signs[2] * b;
  annotation(__AnchorBend(group = "Vectors", face = "a \\pm b", keywords = "vector sum add difference subtract error", width = 64, help = "Element by element; with the factors 1 and -1 the difference.", validity = "Vectors of the same length."));
end VectorSum;
