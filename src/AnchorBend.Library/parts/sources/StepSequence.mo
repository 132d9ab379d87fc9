block StepSequence "Steps at given times"
  output Real y "Output";
  parameter Real t[:](each unit = "s") = {1, 2, 3} "Times of the steps, rising";
  parameter Real values[size(t, 1)] = {1, 0.5, 2} "Value from each time on";
  parameter Real first = 0 "Value before";
equation
  y = first + sum({(values[i] - (if i == 1 then first else values[max(1, i - 1)])) * (if time >= t[i] then 1 else 0) for i in 1:size(t, 1)});
  annotation(__AnchorBend(plot = "t, values", group = "Sources", symbol = "stairs", keywords = "stairs sequence schedule set-points steps", width = 64, help = "A schedule of set-points; each step is met exactly.", validity = "Exact edges; times rise."));
end StepSequence;
