block Doublet "Pulse up, then down"
  output Real y "Output";
  parameter Real amplitude = 1 "Height of each pulse";
  parameter Real width(unit = "s", min = 1e-9) = 0.5 "Length of each pulse";
  parameter Real startTime(unit = "s") = 1 "Start";
  parameter Real offset = 0 "Value before and after";
equation
  y = offset + (if time < startTime or time >= startTime + 2 * width then 0 elseif time < startTime + width then amplitude else -amplitude);
  annotation(__AnchorBend(group = "Sources", symbol = "doublet", keywords = "doublet excitation identification pulse", width = 64, help = "Excites without a lasting change of the mean.", validity = "Exact edges."));
end Doublet;
