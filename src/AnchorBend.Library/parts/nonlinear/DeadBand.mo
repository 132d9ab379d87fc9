block DeadBand "Passes only what leaves a zone about zero"
  input Real u "Input";
  output Real y "Output";
  parameter Real upper = 0.5 "Upper end of the zone";
  parameter Real lower = -0.5 "Lower end of the zone";
equation
  y = if u > upper then u - upper elseif u < lower then u - lower else 0;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "deadzone", keywords = "dead band zone play insensitive threshold", width = 64, help = "Is zero inside the zone and counts from its ends outside.", validity = "Exact; the slope jumps at the borders."));
end DeadBand;
