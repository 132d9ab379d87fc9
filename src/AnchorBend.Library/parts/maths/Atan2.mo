block Atan2 "Angle of a point"
  input Real y_ "Height (sine side)";
  input Real x_ "Width (cosine side)";
  output Real y(unit = "rad", displayUnit = "deg") "Angle, −π to π";
equation
  y = atan2(y_, x_);
  annotation(__AnchorBend(group = "Maths", title = "Angle of a point", face = "\\operatorname{atan2}", keywords = "atan2 angle direction polar phase", width = 80, help = "The angle of the point against the horizontal axis, in all four quadrants.", validity = "Exact, in all four quadrants; at the origin the angle is zero."));
end Atan2;
