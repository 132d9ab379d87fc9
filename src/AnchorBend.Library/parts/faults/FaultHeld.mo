block FaultHeld "Keeps the value of the instant at which it comes"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
protected
  discrete Real held(start = 0) "Value when the fault came";
equation
  when {initial(), active} then
    held = u;
  end when;
  y = if active then held else u;
  annotation(__AnchorBend(help = "Holds the value that the signal has when the fault comes.", validity = "While it is not active, its output is its input, exactly."));
end FaultHeld;
