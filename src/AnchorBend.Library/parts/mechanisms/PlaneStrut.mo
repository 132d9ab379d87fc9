model PlaneStrut "Line between two points for cylinders and drives"
  PlanePort a "Point of the housing" annotation(__AnchorBend(side = "left"));
  PlanePort b "Point of the rod" annotation(__AnchorBend(side = "right"));
  TranslationalPort base "Housing" annotation(__AnchorBend(side = "bottom"));
  TranslationalPort rod "Rod" annotation(__AnchorBend(side = "bottom"));
  parameter Real l0(unit = "m", min = 0) = 1 "Distance of the points where the rod is at nothing";
protected
  parameter Real tiny(unit = "m") = 1e-9 "Keeps the direction finite where the points meet";
  Real length(unit = "m", start = 1) "Distance of the points";
  Real ex(stateSelect = StateSelect.never) "Direction from the first to the second, along";
  Real ey(stateSelect = StateSelect.never) "Direction from the first to the second, upwards";
equation
  length = sqrt((b.x - a.x) ^ 2 + (b.y - a.y) ^ 2 + tiny ^ 2);
  ex = (b.x - a.x) / length;
  ey = (b.y - a.y) / length;
  base.position = 0;
  rod.position = length - l0;
  a.t = 0;
  b.t = 0;
  b.fx = -rod.force * ex;
  b.fy = -rod.force * ey;
  a.fx = -base.force * ex;
  a.fy = -base.force * ey;
  annotation(__AnchorBend(scene(kind = "strut", x = "a.x", y = "a.y", x2 = "b.x", y2 = "b.y"), group = "Mechanisms", symbol = "strut", keywords = "strut actuator hydraulic cylinder linear drive line of force two pins plane mechanism", width = 96, height = 48, help = "What is connected between housing and rod acts along the line between two points: a hydraulic cylinder, a spindle, a spring with an end stop. The rod's position is the distance of the points less that at which it counts as nothing.", validity = "No mass across the line; points that do not meet."));
end PlaneStrut;
