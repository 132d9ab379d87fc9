block Notch "Notch filter"
  input Real u "Input";
  output Real y "Output";
  parameter Real f(unit = "Hz", min = 1e-9) = 10 "Frequency taken out";
  parameter Real D1(min = 0) = 0.05 "Damping of the zeros; 0 takes the frequency out wholly";
  parameter Real D2(min = 1e-6) = 0.7 "Damping of the poles: width of the notch";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  Real x1(start = 0) "Filter state";
  Real x2(start = 0) "Filter state";
equation
  der(x1) = x2;
  der(x2) = w ^ 2 * (u - x1) - 2 * D2 * w * x2;
  y = u + 2 * (D1 - D2) / w * x2;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{s^2+2D_1\\omega s+\\omega^2}{s^2+2D_2\\omega s+\\omega^2}", keywords = "notch band stop resonance filter", width = 112, help = "Takes a narrow band around its frequency out, such as a resonance; slow and fast signals pass.", validity = "Removes one frequency; that of the plant must be known to a part of the notch’s width."));
end Notch;
