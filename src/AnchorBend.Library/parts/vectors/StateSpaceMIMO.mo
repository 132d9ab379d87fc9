block StateSpaceMIMO "State space with many inputs and outputs"
  input Real u[size(B, 2)] "Inputs" annotation(__AnchorBend(vector = true));
  output Real y[size(C, 1)] "Outputs" annotation(__AnchorBend(vector = true));
  parameter Real A[:, :] = {{-1, 0}, {0, -2}} "System matrix";
  parameter Real B[size(A, 1), :] = {{1, 0}, {0, 1}} "Input matrix";
  parameter Real C[:, size(A, 1)] = {{1, 1}, {0, 1}} "Output matrix";
  parameter Real D[size(C, 1), size(B, 2)] = zeros(size(C, 1), size(B, 2)) "Direct matrix";
  parameter Real x0[size(A, 1)] = zeros(size(A, 1)) "Start values";
protected
  Real x[size(A, 1)](start = x0) "States";
equation
  der(x) = A * x + B * u;
  y = C * x + D * u;
  annotation(__AnchorBend(group = "Dynamics", title = "State space, many signals", face = "\\dot x=Ax+Bu", keywords = "state space mimo multivariable matrix", width = 96, help = "Any number of inputs and outputs.", validity = "Exact for a linear system of constant matrices that fit each other in size."));
end StateSpaceMIMO;
