block BooleanConstant "Fixed condition"
  output Boolean y "Output";
  parameter Boolean k = true "Value";
equation
  y = k;
  annotation(__AnchorBend(group = "Sources", face = "\\text{<<k>>}", keywords = "boolean constant true false", width = 64, help = "Always true or always false.", validity = "Exact."));
end BooleanConstant;
