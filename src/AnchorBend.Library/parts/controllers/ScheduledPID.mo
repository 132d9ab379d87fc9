block ScheduledPID "PID controller whose gains follow a table"
  input Real r "Set-point";
  input Real y "Measured value";
  input Real s "Quantity that the gains follow";
  output Real u "Controller output";
  parameter Real at[:] = {0, 1} "Values of the quantity, rising";
  parameter Real k[size(at, 1)] = {1, 1} "Gain at each";
  parameter Real Ti[size(at, 1)](each unit = "s", each min = 1e-9) = {1, 1} "Integral time at each";
  parameter Real Td[size(at, 1)](each unit = "s", each min = 0) = {0, 0} "Derivative time at each";
  parameter Real N(min = 1) = 10 "Derivative filter: its time constant is Td/N";
  parameter Real b(min = 0) = 1 "Set-point weight of the proportional part";
  parameter Boolean limited = false "Limit the output";
  parameter Real uMax = 1 "Upper limit" annotation(__AnchorBend(shown = "limited"));
  parameter Real uMin = -1 "Lower limit" annotation(__AnchorBend(shown = "limited"));
  parameter Real Tt(unit = "s", min = 1e-9) = 0.5 "Time constant of the anti-windup" annotation(__AnchorBend(shown = "limited"));
  parameter Real I0 = 0 "Start value of the integral part";
protected
  parameter Boolean derivative = max(Td) > 0;
  parameter Real shortest(unit = "s") = if derivative then max(Td) / N / 1000 else 1 "Shortest filter time constant";
  Real kNow "Gain now";
  Real TiNow(unit = "s") "Integral time now";
  Real TdNow(unit = "s") "Derivative time now";
  Real Tf(unit = "s") "Filter time constant now";
  Real P "Proportional part";
  Real I(start = I0) "Integral part";
  Real D "Derivative part";
  Real x "Filtered measured value";
  Real v "Output before the limits";
equation
  kNow = interpolate(s, at, k, "linear");
  TiNow = interpolate(s, at, Ti, "linear");
  TdNow = interpolate(s, at, Td, "linear");
  Tf = max(TdNow / N, shortest);
  P = kNow * (b * r - y);
  der(I) = kNow * (r - y) / TiNow + (if limited then (u - v) / Tt else 0);
  der(x) = if derivative then (y - x) / Tf else 0;
  D = if derivative then -kNow * TdNow * (y - x) / Tf else 0;
  v = P + I + D;
  u = if limited and v > uMax then uMax elseif limited and v < uMin then uMin else v;
  annotation(__AnchorBend(tunable = "pid", group = "Controllers", face = "\\text{PID}(s)", formula = "u = k(s)\\left(b\\,r - y + \\int \\frac{r-y}{T_i(s)}\\,dt - T_d(s)\\,\\dot y_f\\right)",
    keywords = "controller regulator gain schedule scheduling table adaptive operating point", width = 96, height = 72,
    help = "Ideal form whose gains are read from a table over a quantity: a speed, a level, a load. Between the rows they go in straight lines, outside they stay. The integral part holds what it gives to the output, so that changing gains make no bump. Tune fills the table from saved operating points.", validity = "The quantity must change more slowly than the loop; its values rise. A linear law between its limits."));
end ScheduledPID;
