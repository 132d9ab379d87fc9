block TwoPoint "Two-point controller with hysteresis"
  input Real r "Set-point";
  input Real y "Measured value";
  output Boolean u "On";
  parameter Real band(min = 0) = 1 "Whole width of the hysteresis";
  parameter Boolean start = false "On at the start";
protected
  Boolean on(start = start, fixed = true);
equation
  on = if pre(on) then y < r + band / 2 else y < r - band / 2;
  u = on;
  annotation(__AnchorBend(group = "Controllers", title = "Two-point controller", symbol = "loop", keywords = "on off two point bang bang thermostat hysteresis controller", width = 80, help = "On below the band, off above it, as before within.", validity = "For plants slow against the switching. Without hysteresis or dead time in the plant it would switch without end."));
end TwoPoint;
