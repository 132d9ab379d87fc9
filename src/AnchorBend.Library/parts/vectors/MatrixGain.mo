block MatrixGain "Matrix times signals"
  input Real u[size(K, 2)] "Inputs" annotation(__AnchorBend(vector = true));
  output Real y[size(K, 1)] "Outputs" annotation(__AnchorBend(vector = true));
  parameter Real K[:, :] = {{1, 0}, {0, 1}} "Matrix";
equation
  y = K * u;
  annotation(__AnchorBend(group = "Vectors", face = "K u", keywords = "matrix gain mixing decoupling allocation vector", width = 64, help = "As many outputs as the matrix has rows, as many inputs as it has columns.", validity = "Exact; the matrix sets the sizes."));
end MatrixGain;
