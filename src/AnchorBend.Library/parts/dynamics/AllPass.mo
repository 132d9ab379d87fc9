block AllPass "All-pass of first order"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Time constant";
protected
  Real x(start = 0) "State";
equation
  T * der(x) = u - x;
  y = 2 * x - u;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{1-<<T>>s}{1+<<T>>s}", keywords = "all pass non minimum phase", width = 96, help = "Gain 1 at every frequency; turns the phase only.", validity = "Exact; a real delay turns the phase further at high frequencies."));
end AllPass;
