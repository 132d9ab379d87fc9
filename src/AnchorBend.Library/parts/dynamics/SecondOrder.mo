block SecondOrder "Second-order lag"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real w(unit = "rad/s", min = 1e-9) = 1 "Natural frequency";
  parameter Real D(min = 0) = 0.7 "Damping ratio";
  parameter Real y0 = 0 "Start value";
  parameter Real v0 = 0 "Start value of the rate";
protected
  Real x(start = y0);
  Real v(start = v0);
equation
  der(x) = v;
  der(v) = w ^ 2 * (k * u - x) - 2 * D * w * v;
  y = x;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>>}{(s/\\omega)^2 + 2 D s/\\omega + 1}", keywords = "PT2 oscillator spring mass damper resonance", width = 128,
    help = "An oscillator driven by its input; D = 1 is the border to overshoot.", validity = "Exact for a linear second-order element; damping may be zero, not negative in practice."));
end SecondOrder;
