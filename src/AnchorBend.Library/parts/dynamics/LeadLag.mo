block LeadLag "Lead or lag"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real T1(unit = "s", min = 0) = 1 "Time constant of the zero";
  parameter Real T2(unit = "s", min = 1e-9) = 0.1 "Time constant of the pole";
  parameter Real x0 = 0 "Start value of the slow part";
protected
  Real x(start = x0) "Lag of the input";
equation
  T2 * der(x) = u - x;
  y = k * (x + T1 / T2 * (u - x));
  annotation(__AnchorBend(group = "Dynamics", face = "<<k>>\\frac{<<T1>> s + 1}{<<T2>> s + 1}", keywords = "lead lag compensator phase", width = 112, help = "Lead where the zero is slower than the pole (T1 > T2), lag otherwise.", validity = "Exact; the time constant of the lag is above zero, that of the lead may be zero."));
end LeadLag;
