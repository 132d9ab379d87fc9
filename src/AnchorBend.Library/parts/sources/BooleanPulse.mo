block BooleanPulse "Condition that is true again and again"
  output Boolean y "Output";
  parameter Real period(unit = "s", min = 1e-9) = 1 "Period";
  parameter Real width(min = 0, max = 1) = 0.5 "Part of the period that is true";
  parameter Real startTime(unit = "s") = 0 "First pulse";
equation
  y = time >= startTime and interpolate((time - startTime) / period, {0, width, 1}, {1, 0, 0}, "repeat steps") > 0.5;
  annotation(__AnchorBend(example(feeds = "Boolean", period = "period", set(startTime = "1 s")), group = "Sources", symbol = "square", keywords = "boolean pulse clock periodic condition", width = 64, help = "True at the start of each period.", validity = "Exact edges."));
end BooleanPulse;
