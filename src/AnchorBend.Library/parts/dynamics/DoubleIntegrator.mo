block DoubleIntegrator "Acceleration to position"
  input Real u "Acceleration";
  output Real y "Position";
  output Real v "Speed";
  parameter Real y0 = 0 "Start position";
  parameter Real v0 = 0 "Start speed";
protected
  Real s(start = y0) "Position";
  Real w(start = v0) "Speed";
equation
  der(s) = w;
  der(w) = u;
  y = s;
  v = w;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{1}{s^2}", keywords = "double integrator free mass satellite", width = 64, help = "Integrates twice.", validity = "Exact; a constant input drifts without limit."));
end DoubleIntegrator;
