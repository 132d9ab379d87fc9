block ParkTransform "Resting frame into a turning one"
  parameter Boolean back = false "From the turning frame back to the resting one";
  input Real u[3] "Components in the one frame, and zero" annotation(__AnchorBend(vector = true));
  input Real angle(unit = "rad") "Angle of the turning frame" annotation(__AnchorBend(side = "bottom"));
  output Real y[3] "Components in the other frame, and zero" annotation(__AnchorBend(vector = true));
protected
  parameter Real sign = if back then -1 else 1 "Sense of the turn";
equation
  y[1] = cos(angle) * u[1] + sign * sin(angle) * u[2];
  y[2] = -sign * sin(angle) * u[1] + cos(angle) * u[2];
  y[3] = u[3];
  annotation(__AnchorBend(group = "Drives", face = "\\alpha\\beta \\leftrightarrow dq", keywords = "Park transform rotation dq frame field oriented synchronous", width = 80, help = "Turns a space vector by an angle: d lies along the turning axis, q a quarter turn ahead (R. H. Park, Two-reaction theory of synchronous machines, 1929). What turns with the frame stands still in it. The zero component passes through.", validity = "Exact; lengths stay as they are, so both scalings of the phases may come before it."));
end ParkTransform;
