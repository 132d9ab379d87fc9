model PlaneSlot "Pin in a slot"
  extends BetweenFrames;
  parameter Real alpha(unit = "rad", displayUnit = "deg") = 0 "Direction of the slot in the first frame";
  parameter Real damping(unit = "N.s/m", min = 0) = 0 "Viscous friction along the slot";
protected
  Real s(unit = "m") "Place of the pin in the slot";
  Real ex(stateSelect = StateSelect.never) "Direction of the slot, along";
  Real ey(stateSelect = StateSelect.never) "Direction of the slot, upwards";
equation
  ex = cos(a.phi + alpha);
  ey = sin(a.phi + alpha);
  b.x = a.x + s * ex;
  b.y = a.y + s * ey;
  b.t = 0;
  b.fx * ex + b.fy * ey = damping * der(s);
  a.t + (b.x - a.x) * b.fy - (b.y - a.y) * b.fx = 0;
  annotation(__AnchorBend(scene(kind = "slide", x = "a.x", y = "a.y", angle = "a.phi", x2 = "b.x", y2 = "b.y"), group = "Mechanisms", symbol = "slide", keywords = "pin in slot yoke cam follower plane mechanism", width = 80, height = 48, help = "A pin at the second frame moves along a straight slot in the first one and turns freely.", validity = "No play, no ends of the slot."));
end PlaneSlot;
