block InRange "Within two limits"
  input Real u "Input";
  output Boolean y "Output";
  parameter Real lower = 0 "Lower limit";
  parameter Real upper(min = lower) = 1 "Upper limit";
equation
  y = u >= lower and u <= upper;
  annotation(__AnchorBend(group = "Logic", face = "a \\le u \\le b", keywords = "range window limits check valid", width = 80, help = "True within the limits.", validity = "Exact at the crossings; the lower limit is below the upper one."));
end InRange;
