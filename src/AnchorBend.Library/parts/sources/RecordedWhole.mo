block RecordedWhole "Whole numbers over time"
  type Between = enumeration(linear "Straight lines", steps "Hold until the next point", repeatLinear "Straight lines, again and again", repeatSteps "Hold, again and again");
  output Integer y "Output";
  parameter Real t[:](each unit = "s") = {0, 1, 2} "Times, rising";
  parameter Real values[:] = {0, 1, 0} "Values at these times";
equation
  y = integer(interpolate(time, t, values, Between.steps) + 0.5);
  annotation(__AnchorBend(plot = "t, values", group = "Sources", symbol = "table", keywords = "recorded table points schedule", width = 64,
    help = "Gives recorded values; each holds until the next point.", validity = "Exact; times rise."));
end RecordedWhole;
