block SmoothPoints "Smooth curve through points at given times"
  output Real y "Output";
  parameter Real t[:](each unit = "s") = {0, 1, 2, 4} "Times, rising";
  parameter Real values[size(t, 1)] = {0, 1, 0.5, 0.5} "Values at these times";
equation
  y = monotoneCubic(time, t, values);
  annotation(__AnchorBend(plot = "t, values", group = "Sources", symbol = "bell", keywords = "points trajectory smooth spline profile cubic", width = 64, help = "Passes each point without overshoot between them (monotone cubics; Fritsch and Carlson, SIAM Journal on Numerical Analysis 17, 1980) and keeps the first and last value outside.", validity = "Passes all points; the rate is continuous, the acceleration jumps at the points. Times rise."));
end SmoothPoints;
