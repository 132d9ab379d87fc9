block Observer "State observer"
  input Real u "Input of the plant";
  input Real y "Measured output of the plant";
  output Real x[size(A, 1)] "Estimated states";
  parameter Real A[:, :] = {{0, 1}, {0, 0}} "System matrix";
  parameter Real B[size(A, 1)] = {0, 1} "Input vector";
  parameter Real C[size(A, 1)] = {1, 0} "Output vector";
  parameter Real L[size(A, 1)] = {4, 4} "Observer gain";
protected
  Real z[size(A, 1)](each start = 0) "Estimate";
equation
  der(z) = A * z + B * u + L * (y - C * z);
  x = z;
  annotation(__AnchorBend(group = "Controllers", face = "\\hat x,\\;L", formula = "\\dot{\\hat x}=A\\hat x+Bu+L(y-C\\hat x)", keywords = "observer Luenberger estimator state reconstruction", width = 96, height = 64, help = "Runs the plant's equations beside it and corrects them by the measured output (Luenberger, IEEE Transactions on Military Electronics 8, 1964).", validity = "The plant must be observable and near its linear model; poles far left of the plant amplify measurement noise."));
end Observer;
