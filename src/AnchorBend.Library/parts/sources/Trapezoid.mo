block Trapezoid "Pulse with slopes"
  output Real y "Output";
  parameter Real amplitude = 1 "Height";
  parameter Real rising(unit = "s", min = 1e-9) = 0.2 "Time of rise";
  parameter Real width(unit = "s", min = 0) = 0.3 "Time at the top";
  parameter Real falling(unit = "s", min = 1e-9) = 0.2 "Time of fall";
  parameter Real period(unit = "s", min = rising + width + falling) = 1 "Period";
  parameter Real offset = 0 "Value between the pulses";
equation
  y = offset + amplitude * interpolate(time / period, {0, rising / period, (rising + width) / period, (rising + width + falling) / period, 1}, {0, 1, 1, 0, 0}, "repeat");
  annotation(__AnchorBend(group = "Sources", symbol = "trapezoid", keywords = "trapezoid pulse slope periodic", width = 64, help = "Rises, stays, falls and waits, in each period.", validity = "Exact corners."));
end Trapezoid;
