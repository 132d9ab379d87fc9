block FaultDrift "Adds more and more"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real value = 0 "What is added in each second";
protected
  discrete Real since(start = 0, unit = "s") "When the fault came";
equation
  when {initial(), active} then
    since = time;
  end when;
  y = if active then u + value * (time - since) else u;
  annotation(__AnchorBend(help = "Adds what grows in proportion to the time since the fault came.", validity = "While it is not active, its output is its input, exactly."));
end FaultDrift;
