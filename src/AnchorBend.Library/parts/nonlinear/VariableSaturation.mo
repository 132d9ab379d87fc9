block VariableSaturation "Saturation with limits from signals"
  input Real upper "Upper limit";
  input Real u "Input";
  input Real lower "Lower limit";
  output Real y "Output";
equation
  y = if u > upper then upper elseif u < lower then lower else u;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "saturation", keywords = "variable saturation limiter dynamic limits", width = 64, height = 64, help = "Keeps the input within limits that may change; the upper one wins.", validity = "The upper limit is above the lower one."));
end VariableSaturation;
