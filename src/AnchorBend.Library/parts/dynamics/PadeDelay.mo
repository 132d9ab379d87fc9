block PadeDelay "Delay as a rational function"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Delay";
protected
  Real x1(start = 0) "State";
  Real x2(start = 0) "State";
equation
  T * der(x1) = x2;
  T * der(x2) = 12 * (u - x1) - 6 * x2;
  y = u - x2;
  annotation(__AnchorBend(group = "Dynamics", title = "Delay, approximated", face = "\\frac{(Ts)^2-6Ts+12}{(Ts)^2+6Ts+12}", keywords = "pade delay dead time rational approximation linear", width = 128, help = "Padé's approximation of second order: all-pass, linear, with poles; right up to about one radian of phase.", validity = "Near a delay up to about the order divided by the delay time, in radians a second; beyond it the phase falls back and jumps ring."));
end PadeDelay;
