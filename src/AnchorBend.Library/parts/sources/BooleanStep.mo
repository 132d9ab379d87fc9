block BooleanStep "Condition that becomes true"
  output Boolean y "Output";
  parameter Real startTime(unit = "s") = 1 "Time of the change";
  parameter Boolean first = false "Value before";
equation
  y = if time >= startTime then not first else first;
  annotation(__AnchorBend(group = "Sources", symbol = "step", keywords = "boolean step condition event", width = 64, help = "Changes once.", validity = "Exact edge."));
end BooleanStep;
