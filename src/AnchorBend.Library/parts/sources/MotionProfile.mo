block MotionProfile "Move with limited speed, acceleration and jerk"
  output Real y "Position";
  output Real v "Speed";
  output Real a "Acceleration";
  parameter Real distance = 1 "Distance";
  parameter Real vMax(min = 1e-9) = 0.5 "Highest speed";
  parameter Real aMax(min = 1e-9) = 1 "Highest acceleration";
  parameter Real jMax(min = 1e-9) = 5 "Highest jerk";
  parameter Real startTime(unit = "s") = 1 "Start";
  parameter Real y0 = 0 "Start position";
protected
  parameter Real d = abs(distance);
  parameter Real aTop = min(min(aMax, sqrt(vMax * jMax)), (d * jMax ^ 2 / 2) ^ (1 / 3)) "Acceleration reached";
  parameter Real tj = aTop / jMax "Time of each change of acceleration";
  parameter Real vTop = min(vMax, 0.5 * (-aTop * tj + sqrt((aTop * tj) ^ 2 + 4 * aTop * d))) "Speed reached";
  parameter Real ta = max(0, vTop / aTop - tj) "Time of full acceleration";
  parameter Real tv = max(0, d / vTop - (2 * tj + ta)) "Time of full speed";
  parameter Real change[8](each unit = "s") = {0, tj, tj + ta, 2 * tj + ta, 2 * tj + ta + tv, 3 * tj + ta + tv, 3 * tj + 2 * ta + tv, 4 * tj + 2 * ta + tv};
  parameter Real jerks[8] = {jMax, 0, -jMax, 0, -jMax, 0, jMax, 0};
  Real t(unit = "s") "Time of the move";
  Real j "Jerk";
  Real s(start = 0, fixed = true) "Way";
  Real w(start = 0, fixed = true) "Speed along the way";
  Real b(start = 0, fixed = true) "Acceleration along the way";
equation
  t = time - startTime;
  j = if t < 0 then 0 elseif t < change[2] then jMax elseif t < change[3] then 0 elseif t < change[4] then -jMax elseif t < change[5] then 0
    elseif t < change[6] then -jMax elseif t < change[7] then 0 elseif t < change[8] then jMax else 0;
  der(b) = j;
  der(w) = b;
  der(s) = w;
  y = y0 + sign(distance) * s;
  v = sign(distance) * w;
  a = sign(distance) * b;
  annotation(__AnchorBend(group = "Sources", symbol = "scurve", keywords = "trajectory profile jerk limited acceleration speed point to point s-curve", width = 80, height = 64, help = "The fastest move from rest to rest within the limits: up to seven stretches of constant jerk, fewer where the distance is too short to reach a limit.", validity = "One move from rest to rest; limits above zero. Its jerk jumps, nothing below does."));
end MotionProfile;
