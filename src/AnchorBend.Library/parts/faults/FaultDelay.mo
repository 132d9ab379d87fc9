block FaultDelay "Comes later"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real T(unit = "s", min = 1e-6) = 1 "Time by which it is later";
  constant Real never(unit = "s") = 1e300 "Beyond all runs";
equation
  // A delay keeps steps shorter than itself; one that is not there must not.
  y = if active then delay(u, if active then T else never, T) else u;
  annotation(__AnchorBend(help = "Gives the signal of a time ago. It keeps the steps of a run shorter than that time while it is there.", validity = "While it is not active, its output is its input, exactly."));
end FaultDelay;
