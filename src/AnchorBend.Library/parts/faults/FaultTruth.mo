block FaultTruth "Has a given value"
  input Boolean u "Signal";
  input Boolean active "Whether the fault is there";
  output Boolean y "What comes of it";
  parameter Boolean value = false "Value";
equation
  y = if active then value else u;
  annotation(__AnchorBend(help = "Puts a given value in the place of the signal.", validity = "While it is not active, its output is its input, exactly."));
end FaultTruth;
