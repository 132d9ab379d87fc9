block Ramp "A rise at constant rate between two instants"
  output Real y "Output";
  parameter Real height = 1 "Total rise";
  parameter Real duration(unit = "s", min = 1e-9) = 2 "Duration of the rise";
  parameter Real offset = 0 "Value before the rise";
  parameter Real startTime(unit = "s") = 1 "Start of the rise";
equation
  y = offset + (if time < startTime then 0 elseif time < startTime + duration then height * (time - startTime) / duration else height);
  annotation(__AnchorBend(group = "Sources", symbol = "ramp", keywords = "rate set-point trajectory", width = 64,
    help = "Rises in a straight line by height within duration and stays there.", validity = "Exact corners."));
end Ramp;
