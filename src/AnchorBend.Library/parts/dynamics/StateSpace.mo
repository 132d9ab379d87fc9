block StateSpace "Linear system in state space, one input and one output"
  input Real u "Input";
  output Real y "Output";
  parameter Real A[:, :] = [0, 1; -1, -1] "System matrix";
  parameter Real b[:] = {0, 1} "Input vector";
  parameter Real c[:] = {1, 0} "Output vector";
  parameter Real d = 0 "Feed-through";
  parameter Real x0[:] = zeros(size(b, 1)) "Start values";
protected
  Real x[size(b, 1)](start = x0) "States";
equation
  der(x) = A * x + b * u;
  y = c * x + d * u;
  annotation(__AnchorBend(group = "Dynamics", face = "\\begin{aligned}\\dot x &= Ax + bu\\\\ y &= cx + du\\end{aligned}", keywords = "matrix linear state vector", width = 112, height = 64,
    help = "The matrix is written row by row, as in [0, 1; -1, -1].", validity = "Exact for a linear system of constant matrices that fit each other in size."));
end StateSpace;
