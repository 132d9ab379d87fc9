block FaultWholeHeld "Keeps the value of the instant at which it comes"
  input Integer u "Signal";
  input Boolean active "Whether the fault is there";
  output Integer y "What comes of it";
protected
  Integer held(start = 0, fixed = true) "Value while it is not there";
equation
  held = if active and not initial() then pre(held) else u;
  y = held;
  annotation(__AnchorBend(help = "Holds the value that the signal has when the fault comes.", validity = "While it is not active, its output is its input, exactly."));
end FaultWholeHeld;
