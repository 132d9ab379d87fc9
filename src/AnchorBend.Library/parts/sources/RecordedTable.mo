block RecordedTable "A table of values against time"
  type Between = enumeration(linear "Straight lines", steps "Hold until the next point", repeatLinear "Straight lines, again and again", repeatSteps "Hold, again and again");
  output Real y "Output";
  parameter Real t[:](each unit = "s") = {0, 1, 2} "Times, rising";
  parameter Real values[:] = {0, 1, 0} "Values at these times";
  parameter Between between = Between.linear "Between the points";
  parameter Real offset = 0 "Added to the values";
equation
  y = offset + interpolate(time, t, values, between);
  annotation(__AnchorBend(plot = "t, values", group = "Sources", symbol = "table", keywords = "recorded measured profile lookup points", width = 64,
    help = "Gives recorded values. Before the first and after the last point it keeps their values. Every point is an event, so corners are met exactly.", validity = "Between points as chosen; outside them the end values hold. Times rise."));
end RecordedTable;
