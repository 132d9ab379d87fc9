block ResettableIntegrator "Integrator that a condition sets back"
  input Real u "Input";
  input Boolean reset "Sets back when it becomes true";
  input Real to = y0 "Value it is set to" annotation(__AnchorBend(optional = "withValue"));
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real y0 = 0 "Start value, and value after a reset";
  parameter Boolean withValue = false "With an input for the value";
protected
  Real x(start = y0) "Integral";
equation
  der(x) = k * u;
  when reset then
    reinit(x, to);
  end when;
  y = x;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>>}{s}\\!\\!\\downarrow", keywords = "integrator reset trigger totalizer", width = 80, help = "Set back at the instant at which the condition becomes true.", validity = "Exact; the reset acts at the instant at which the condition becomes true."));
end ResettableIntegrator;
