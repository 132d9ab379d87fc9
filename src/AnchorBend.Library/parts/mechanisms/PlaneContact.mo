model PlaneContact "Point that touches a line"
  extends BetweenFrames;
  parameter Real alpha(unit = "rad", displayUnit = "deg") = 0 "Direction of the line in the first frame; it holds up what comes from its left";
  parameter Real k(unit = "N/m", min = 1) = 1e5 "Stiffness of the contact";
  parameter Real d(unit = "N.s/m", min = 0) = 1e3 "Damping of the contact";
  parameter Real mu(min = 0) = 0.3 "Coefficient of friction";
  parameter Real small(unit = "m/s", min = 1e-6) = 0.01 "Speed from which on friction is whole";
protected
  Real ex(stateSelect = StateSelect.never) "Direction of the line, along";
  Real ey(stateSelect = StateSelect.never) "Direction of the line, upwards";
  Real h(unit = "m") "Height above the line";
  Real s(unit = "m") "Place on the line";
  Real normal(unit = "N") "Force that holds the point up";
  Real rub(unit = "N") "Friction on the point along the line";
  Boolean touches "The point is below the line";
equation
  ex = cos(a.phi + alpha);
  ey = sin(a.phi + alpha);
  s = (b.x - a.x) * ex + (b.y - a.y) * ey;
  h = (b.y - a.y) * ex - (b.x - a.x) * ey;
  touches = h < 0;
  normal = if touches then noEvent(max(0, -k * h - d * der(h))) else 0;
  rub = -mu * normal * tanh(der(s) / small);
  b.fx = -(rub * ex - normal * ey);
  b.fy = -(rub * ey + normal * ex);
  b.t = 0;
  a.t + (b.x - a.x) * b.fy - (b.y - a.y) * b.fx = 0;
  annotation(__AnchorBend(group = "Mechanisms", symbol = "endstop", keywords = "contact point line ground impact friction plane mechanism", width = 80, height = 48, help = "A point of one body is held up by a line through the other frame, with a stiff spring that never pulls, damping and friction.", validity = "A line without ends; friction is smoothed, so it creeps instead of holding."));
end PlaneContact;
