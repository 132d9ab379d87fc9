block Step "A jump at one instant"
  output Real y "Output";
  parameter Real height = 1 "Height of the step";
  parameter Real offset = 0 "Value before the step";
  parameter Real startTime(unit = "s") = 1 "Time of the step";
equation
  y = offset + (if time >= startTime then height else 0);
  annotation(__AnchorBend(example(feeds = "Real", size = "height", set(startTime = "1 s")), group = "Sources", symbol = "step", keywords = "jump set-point test signal", width = 64,
    help = "Jumps from the offset to offset + height at the start time. The jump is an event: the integration stops exactly there.", validity = "Exact edge."));
end Step;
