block SampledIntegrator "Sampled integrator"
  type Rule = enumeration(forward "Forward", backward "Backward", trapezoid "Trapezoid");
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real k = 1 "Gain";
  parameter Rule rule = Rule.forward "Rule";
  parameter Real y0 = 0 "Start value";
protected
  discrete Real x(start = y0) "Sum";
  discrete Real last(start = 0) "Last input";
equation
  when sample(0, T) then
    last = u;
    x = pre(x) + (if initial() then 0 else k * T * (if rule == Rule.forward then pre(last) elseif rule == Rule.backward then u else 0.5 * (u + pre(last))));
    y = x;
  end when;
  annotation(__AnchorBend(group = "Sampled", title = "Sampled integrator", face = "\\frac{<<k>>T}{z-1}", keywords = "discrete integrator accumulator sum Euler trapezoid", width = 80, help = "Adds the input times the sample time at each sample.", validity = "Exact sums; as an integral right to the order of the chosen rule, for signals slow against the sample time."));
end SampledIntegrator;
