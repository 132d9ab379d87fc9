block Washout "High-pass of first order"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Time constant";
  parameter Real x0 = 0 "Start value of the mean that is taken off";
protected
  Real x(start = x0) "Slow part";
equation
  T * der(x) = u - x;
  y = u - x;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<T>> s}{<<T>> s + 1}", keywords = "washout high pass dc block", width = 96, help = "Lets changes pass and takes the lasting part off.", validity = "Exact; the time constant is above zero."));
end Washout;
