block ComplementaryFilter "Joins a slow and a fast measurement"
  input Real slow "Right in the long run, such as a level from an accelerometer";
  input Real fast "Rate of change, right in the short run, such as a gyro";
  output Real y "Estimate";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Time constant of the change-over";
  parameter Real y0 = 0 "Start value";
protected
  Real x(start = y0) "Estimate";
equation
  der(x) = fast + (slow - x) / T;
  y = x;
  annotation(__AnchorBend(group = "Dynamics", face = "\\tfrac{1}{Ts+1},\\;\\tfrac{Ts}{Ts+1}", keywords = "complementary filter sensor fusion attitude gyro", width = 112, help = "Low-pass of the one plus high-pass of the other, so that both together have the gain 1 at every frequency.", validity = "The two measurements must agree in the mean: an offset of the fast one passes below the corner frequency not at all, one of the slow one passes whole."));
end ComplementaryFilter;
