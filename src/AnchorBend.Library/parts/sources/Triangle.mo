block Triangle "Triangle wave"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude";
  parameter Real period(unit = "s", min = 1e-9) = 1 "Period";
  parameter Real offset = 0 "Middle value";
equation
  y = offset + amplitude * interpolate(time / period, {0, 0.25, 0.75, 1}, {0, 1, -1, 0}, "repeat");
  annotation(__AnchorBend(group = "Sources", symbol = "triangle", keywords = "triangle wave periodic", width = 64, help = "Straight up and down between plus and minus the amplitude; starts upwards from the middle.", validity = "Exact corners."));
end Triangle;
