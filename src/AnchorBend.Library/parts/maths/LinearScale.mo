block LinearScale "Scales one range to another"
  input Real u "Input";
  output Real y "Output";
  parameter Real u1 = 0 "Input at the first point";
  parameter Real y1 = 0 "Output there";
  parameter Real u2 = 1 "Input at the second point";
  parameter Real y2 = 100 "Output there";
  parameter Boolean clip = false "Stay between the two outputs";
protected
  Real line "Straight line";
equation
  line = y1 + (y2 - y1) * (u - u1) / (u2 - u1);
  y = if clip then min(max(line, min(y1, y2)), max(y1, y2)) else line;
  annotation(__AnchorBend(group = "Maths", face = "a u + b", keywords = "scale range map linear sensor 4-20 mA calibration", width = 64, help = "The straight line through two points, such as 4 to 20 mA to 0 to 100 %.", validity = "Exact; beyond the ranges it goes on along the line."));
end LinearScale;
