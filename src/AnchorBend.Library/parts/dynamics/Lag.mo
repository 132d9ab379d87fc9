block Lag "First-order lag"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Time constant";
  parameter Real y0 = 0 "Start value";
protected
  Real x(start = y0);
equation
  T * der(x) = k * u - x;
  y = x;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>>}{<<T>> s + 1}", keywords = "low pass PT1 first order filter time constant", width = 96,
    help = "Follows k times the input with the time constant T.", validity = "Exact for a linear first-order element; the time constant is above zero."));
end Lag;
