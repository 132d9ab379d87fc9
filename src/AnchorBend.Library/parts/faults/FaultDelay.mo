block FaultDelay "Comes later"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real T(unit = "s", min = 1e-6) = 1 "Time by which it is later";
equation
  y = if active then delay(u, T) else u;
  annotation(__AnchorBend(help = "Gives the signal of a time ago. It keeps the steps of a run shorter than that time, also while it is not active.", validity = "While it is not active, its output is its input, exactly."));
end FaultDelay;
