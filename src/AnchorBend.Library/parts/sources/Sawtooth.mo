block Sawtooth "Sawtooth wave"
  output Real y "Output";
  parameter Real amplitude = 1 "Height of the rise";
  parameter Real period(unit = "s", min = 1e-9) = 1 "Period";
  parameter Real offset = 0 "Value at the start of each rise";
  parameter Real startTime(unit = "s") = 0 "First rise";
protected
  discrete Real t0(unit = "s", start = startTime) "Start of the present rise";
equation
  when sample(startTime + period, period) then
    t0 = time;
  end when;
  y = offset + (if time < startTime then 0 else amplitude * (time - t0) / period);
  annotation(__AnchorBend(group = "Sources", symbol = "sawtooth", keywords = "sawtooth saw ramp periodic", width = 64, help = "Rises evenly over each period and falls back at once.", validity = "Exact edges."));
end Sawtooth;
