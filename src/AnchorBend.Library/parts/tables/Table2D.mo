block Table2D "Table of two inputs"
  type Outside = enumeration(clip "Keep the edge values", extend "Go straight on");
  input Real u1 "First input, along the rows";
  input Real u2 "Second input, along the columns";
  output Real y "Output";
  parameter Real x1[:] = {0, 1} "First input at the rows, rising";
  parameter Real x2[:] = {0, 1} "Second input at the columns, rising";
  parameter Real values[:, :] = {{0, 1}, {2, 4}} "Output, a row for each x1 and a column for each x2";
  parameter Outside outside = Outside.clip "Outside the points";
protected
  Real w1[size(x1, 1)] "Weights of the rows";
  Real w2[size(x2, 1)] "Weights of the columns";
equation
  w1 = bracketShare(u1, x1, outside == Outside.extend);
  w2 = bracketShare(u2, x2, outside == Outside.extend);
  y = w1 * values * w2;
  annotation(__AnchorBend(group = "Tables", title = "Table, two inputs", symbol = "surface", keywords = "lookup table map two dimensional 2-D surface bilinear efficiency", width = 64, help = "Bilinear interpolation in a grid of points.", validity = "Within its points, or beyond them as chosen; both abscissas rise."));
end Table2D;
