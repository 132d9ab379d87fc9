block Monitor "Checks a condition during the run"
  input Boolean u "Condition that must hold";
  parameter Real startTime(unit = "s") = 1 "Checked from this time on";
equation
  assert(u or time < startTime, "The condition of a monitor does not hold.");
  annotation(__AnchorBend(group = "Structure", symbol = "threshold", keywords = "assert check monitor stop condition", width = 64, help = "Stops the run at the instant at which its condition becomes false; what happens before the start time does not count.", validity = "Looks at every instant of the run, also between output points."));
end Monitor;
