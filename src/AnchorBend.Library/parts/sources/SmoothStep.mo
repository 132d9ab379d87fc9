block SmoothStep "Step without jerk at its ends"
  output Real y "Output";
  parameter Real height = 1 "Height";
  parameter Real startTime(unit = "s") = 1 "Start";
  parameter Real duration(unit = "s", min = 1e-9) = 1 "Duration";
  parameter Real offset = 0 "Value before";
protected
  Real x "Part of the way";
equation
  x = noEvent(max(0, min(1, (time - startTime) / duration)));
  y = offset + height * x ^ 3 * (10 + x * (6 * x - 15));
  annotation(__AnchorBend(group = "Sources", symbol = "scurve", keywords = "smooth step polynomial minimum jerk transition", width = 64, help = "A polynomial of fifth order: position, speed and acceleration are continuous at both ends.", validity = "Rate and acceleration are continuous."));
end SmoothStep;
