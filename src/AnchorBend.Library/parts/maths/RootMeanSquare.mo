block RootMeanSquare "Root mean square over a sliding window"
  input Real u "Input";
  output Real y "Root mean square";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Window";
protected
  Real s(start = 0, fixed = true) "Integral of the square over the window's length";
  Real earlier "The same one window ago";
equation
  der(s) = u ^ 2 / T;
  earlier = delay(s, T);
  y = sqrt(noEvent(max(0, s - earlier)));
  annotation(__AnchorBend(group = "Maths", face = "\\sqrt{\\overline{u^2}}", keywords = "rms effective value root mean square window", width = 64, help = "Over the last window; before the first window is over, the missing past counts as zero.", validity = "Before one window has passed, the mean is over what there was."));
end RootMeanSquare;
