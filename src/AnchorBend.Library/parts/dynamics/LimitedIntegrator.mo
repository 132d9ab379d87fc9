block LimitedIntegrator "Integrator that stops at limits"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real upper = 1 "Upper limit";
  parameter Real lower(max = upper) = -1 "Lower limit";
  parameter Real y0 = 0 "Start value";
protected
  Real x(start = y0) "Integral";
  Boolean atTop "Held at the upper limit";
  Boolean atBottom "Held at the lower limit";
equation
  atTop = x >= upper and k * u > 0;
  atBottom = x <= lower and k * u < 0;
  der(x) = if atTop or atBottom then 0 else k * u;
  y = noEvent(max(lower, min(upper, x)));
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>>}{s}\\,\\big|", keywords = "limited integrator saturation clamp windup", width = 80, help = "Stops at its limits and leaves them at once when the input turns round.", validity = "Exact; it leaves a limit at the instant at which the input changes its sign."));
end LimitedIntegrator;
