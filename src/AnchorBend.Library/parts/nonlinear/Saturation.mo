block Saturation "Limits a signal"
  input Real u "Input";
  output Real y "Output";
  parameter Real upper = 1 "Upper limit";
  parameter Real lower = -1 "Lower limit";
equation
  y = if u > upper then upper elseif u < lower then lower else u;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "saturation", keywords = "limit clamp clip bound", width = 64, help = "Passes the input between its limits. Reaching a limit is an event and shows on the time bar.", validity = "Exact; the slope jumps at the limits."));
end Saturation;
