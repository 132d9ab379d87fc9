block FaultBias "Adds a value"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real value = 0 "What is added";
equation
  y = if active then u + value else u;
  annotation(__AnchorBend(help = "Adds a constant to the signal.", validity = "While it is not active, its output is its input, exactly."));
end FaultBias;
