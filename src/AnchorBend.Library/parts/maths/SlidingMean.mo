block SlidingMean "Mean over a sliding window"
  input Real u "Input";
  output Real y "Mean";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Window";
protected
  Real s(start = 0, fixed = true) "Integral over the window's length";
  Real earlier "The same one window ago";
equation
  der(s) = u / T;
  earlier = delay(s, T);
  y = s - earlier;
  annotation(__AnchorBend(group = "Maths", face = "\\frac1T\\!\\int_{t-T}^{t}\\!\\!u", keywords = "moving average mean window", width = 80, help = "Over the last window; before the first window is over, the missing past counts as zero.", validity = "Before one window has passed, the mean is over what there was."));
end SlidingMean;
