block FaultWhole "Has a given value"
  input Integer u "Signal";
  input Boolean active "Whether the fault is there";
  output Integer y "What comes of it";
  parameter Integer value = 0 "Value";
equation
  y = if active then value else u;
  annotation(__AnchorBend(help = "Puts a given value in the place of the signal.", validity = "While it is not active, its output is its input, exactly."));
end FaultWhole;
