block Integrator "Integrates its input"
  input Real u "Input";
  input Boolean reset = false "Sets the output back when it becomes true" annotation(__AnchorBend(optional = "resettable"));
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real y0 = 0 "Start value";
  parameter Boolean limited = false "Limit the output";
  parameter Real yMax = 1 "Upper limit" annotation(__AnchorBend(shown = "limited"));
  parameter Real yMin = -1 "Lower limit" annotation(__AnchorBend(shown = "limited"));
  parameter Boolean resettable = false "With a reset input";
  parameter Real yReset = 0 "Value after a reset" annotation(__AnchorBend(shown = "resettable"));
protected
  Real x(start = y0) "Integral";
equation
  der(x) = if limited and (x >= yMax and k * u > 0 or x <= yMin and k * u < 0) then 0 else k * u;
  y = if not limited then x elseif x > yMax then yMax elseif x < yMin then yMin else x;
  when reset then
    reinit(x, yReset);
  end when;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>>}{s}", keywords = "integral accumulate 1/s storage", width = 64,
    help = "Integrates k times the input. With limits it stops at them and leaves as soon as the input points inwards. The reset acts at the instant its input becomes true.", validity = "Exact; a constant input grows without limit."));
end Integrator;
