block Table "Table of one input"
  type Between = enumeration(linear "Straight lines", steps "Hold until the next point", monotone "Smooth, without overshoot", akima "Smooth, after Akima");
  type Outside = enumeration(clip "Keep the end values", extend "Go straight on", error "Stop the run");
  input Real u "Input";
  output Real y "Output";
  parameter Real x[:] = {0, 1, 2} "Input at the points, rising";
  parameter Real values[size(x, 1)] = {0, 1, 0.5} "Output there";
  parameter Between between = Between.linear "Between the points";
  parameter Outside outside = Outside.clip "Outside the points";
protected
  parameter Integer n = size(x, 1);
  parameter Boolean extend = outside == Outside.extend;
equation
  if between == Between.linear then
    y = if extend and u < x[1] then values[1] + (values[2] - values[1]) / (x[2] - x[1]) * (u - x[1])
      elseif extend and u > x[n] then values[n] + (values[n] - values[n - 1]) / (x[n] - x[n - 1]) * (u - x[n]) else interpolate(u, x, values, "linear");
  elseif between == Between.steps then
    y = interpolate(u, x, values, "steps");
  elseif between == Between.monotone then
    y = monotoneCubic(u, x, values, extend);
  else
    y = akimaCubic(u, x, values, extend);
  end if;
  assert(outside <> Outside.error or u >= x[1] and u <= x[n], "The input of the table is outside its points.");
  annotation(__AnchorBend(plot = "x, values", group = "Tables", symbol = "table", keywords = "lookup table map characteristic curve interpolation 1-D Akima spline", width = 64, help = "A characteristic given by points. Between them straight lines, steps, or smooth cubics: monotone ones never overshoot, Akima's follow bends closely. Outside it keeps its end values, goes straight on, or stops the run with a message.", validity = "Within its points, or beyond them as chosen; abscissas rise. Slopes jump at points with straight lines, not with cubics."));
end Table;
