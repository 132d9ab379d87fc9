block Play "Mechanical play of a signal"
  input Real u "Input";
  output Real y "Output";
  parameter Real width(min = 1e-12) = 0.2 "Whole play";
  parameter Real y0 = 0 "Start value";
protected
  Real x(start = y0, fixed = true) "Output";
  parameter Real k(unit = "1/s") = 1e4 "How fast the flank drags along";
equation
  der(x) = k * (if u - x > width / 2 then u - x - width / 2 elseif u - x < -width / 2 then u - x + width / 2 else 0);
  y = x;
  annotation(__AnchorBend(group = "Limits and friction", title = "Backlash (signal)", symbol = "loop", keywords = "backlash play hysteresis gear", width = 64, help = "The output stays until the input touches a flank and is then dragged along with a tenth of a millisecond of lag.", validity = "No mass or stiffness in the play: for signals, not for contact forces."));
end Play;
