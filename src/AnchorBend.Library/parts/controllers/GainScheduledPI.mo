block GainScheduledPI "PI controller with gains from a table"
  input Real r "Set-point";
  input Real y "Measured value";
  input Real s "Scheduling signal";
  output Real u "Controller output";
  parameter Real x[:] = {0, 1} "Scheduling signal at the points, rising";
  parameter Real k[size(x, 1)] = {1, 2} "Gain there";
  parameter Real Ti[size(x, 1)](each unit = "s") = {1, 0.5} "Integral time there";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
protected
  Real gain "Gain now";
  Real time_(unit = "s") "Integral time now";
  Real I(start = 0) "Integral part";
  Real wanted "Output before its limits";
equation
  gain = interpolate(s, x, k);
  time_ = interpolate(s, x, Ti);
  wanted = gain * (r - y) + I;
  u = noEvent(max(uMin, min(uMax, wanted)));
  der(I) = gain / time_ * (r - y) + (u - wanted) / time_;
  annotation(__AnchorBend(plot = "x, k", group = "Controllers", title = "PI, scheduled gains", face = "k(s),\\;T_i(s)", keywords = "gain schedule scheduling adaptive pi controller", width = 96, height = 64, help = "Gain and integral time follow the scheduling signal. The integral part is kept in units of the output, so that a change of gains makes no bump at rest.", validity = "The gains are right where the scheduling signal changes slowly against the loop; outside the table the end values hold."));
end GainScheduledPI;
