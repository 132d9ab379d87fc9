block Encoder "Angle by counting lines"
  input Real angle(unit = "rad") "Angle";
  output Real y(unit = "rad") "Angle as it is counted";
  parameter Integer lines(min = 1) = 1024 "Lines of a turn; each gives four counts";
protected
  parameter Real step(unit = "rad") = 1.5707963267948966 / lines "Angle of a count";
equation
  y = step * floor(angle / step);
  annotation(__AnchorBend(group = "Drives", symbol = "stairs", keywords = "encoder incremental resolution quantization angle position quadrature", width = 64, help = "The angle in whole counts, four for each line, as two tracks a quarter of a line apart give them.", validity = "Exact at each count; no index, no missed counts, which faults can add."));
end Encoder;
