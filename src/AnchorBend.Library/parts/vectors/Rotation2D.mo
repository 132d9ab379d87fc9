block Rotation2D "Turns a vector in the plane"
  input Real u1 "First element";
  input Real u2 "Second element";
  input Real phi(unit = "rad") "Angle" annotation(__AnchorBend(side = "top"));
  output Real y1 "First element, turned";
  output Real y2 "Second element, turned";
equation
  y1 = cos(phi) * u1 - sin(phi) * u2;
  y2 = sin(phi) * u1 + cos(phi) * u2;
  annotation(__AnchorBend(group = "Vectors", title = "Rotation in the plane", face = "R(\\varphi)", keywords = "rotation frame transform park heading", width = 64, help = "From a turned frame to the fixed one; the negative angle goes back.", validity = "Exact."));
end Rotation2D;
