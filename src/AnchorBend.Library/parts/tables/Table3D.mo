block Table3D "Table of three inputs"
  type Outside = enumeration(clip "Keep the edge values", extend "Go straight on");
  input Real u1 "First input";
  input Real u2 "Second input";
  input Real u3 "Third input";
  output Real y "Output";
  parameter Real x1[:] = {0, 1} "Points of the first input, rising";
  parameter Real x2[:] = {0, 1} "Points of the second input, rising";
  parameter Real x3[:] = {0, 1} "Points of the third input, rising";
  parameter Real values[:, :, :] = {{{0, 1}, {2, 3}}, {{4, 5}, {6, 7}}} "Output for each x1, x2, x3";
  parameter Outside outside = Outside.clip "Outside the points";
protected
  Real w1[size(x1, 1)];
  Real w2[size(x2, 1)];
  Real w3[size(x3, 1)];
equation
  w1 = bracketShare(u1, x1, outside == Outside.extend);
  w2 = bracketShare(u2, x2, outside == Outside.extend);
  w3 = bracketShare(u3, x3, outside == Outside.extend);
  y = sum({w1[i] * (w2 * values[i, :, :] * w3) for i in 1:size(x1, 1)});
  annotation(__AnchorBend(group = "Tables", title = "Table, three inputs", symbol = "surface", keywords = "lookup table three dimensional 3-D map trilinear", width = 64, help = "Trilinear interpolation in a grid of points.", validity = "Within its points, or beyond them as chosen; all abscissas rise."));
end Table3D;
