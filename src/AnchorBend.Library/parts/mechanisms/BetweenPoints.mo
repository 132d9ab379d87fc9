partial model BetweenPoints "A force along the line between two points"
  extends BetweenFrames;
protected
  parameter Real tiny(unit = "m") = 1e-9 "Keeps the direction finite where the points meet";
  Real length(unit = "m", start = 1) "Distance of the points";
  Real ex(stateSelect = StateSelect.never) "Direction from the first to the second, along";
  Real ey(stateSelect = StateSelect.never) "Direction from the first to the second, upwards";
  Real pull(unit = "N") "Force that draws them together";
equation
  length = sqrt((b.x - a.x) ^ 2 + (b.y - a.y) ^ 2 + tiny ^ 2);
  ex = (b.x - a.x) / length;
  ey = (b.y - a.y) / length;
  a.t = 0;
  b.t = 0;
  b.fx = pull * ex;
  b.fy = pull * ey;
end BetweenPoints;
