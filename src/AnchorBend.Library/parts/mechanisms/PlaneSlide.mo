model PlaneSlide "Slide along a line"
  extends BetweenFrames;
  TranslationalPort rod if driven "Drive of the second frame along the line" annotation(__AnchorBend(side = "top", optional = "driven"));
  output Real place(unit = "m") if shows "Place on the line" annotation(__AnchorBend(side = "bottom", optional = "shows"));
  parameter Real alpha(unit = "rad", displayUnit = "deg") = 0 "Direction of the line in the first frame";
  parameter Real damping(unit = "N.s/m", min = 0) = 0 "Viscous friction";
  parameter Real dry(unit = "N", min = 0) = 0 "Dry friction";
  parameter Boolean stops = false "With stops";
  parameter Real sMin(unit = "m") = 0 "Lower stop" annotation(__AnchorBend(shown = "stops"));
  parameter Real sMax(unit = "m", min = sMin) = 1 "Upper stop" annotation(__AnchorBend(shown = "stops"));
  parameter Real cStop(unit = "N/m", min = 0) = 1e6 "Stiffness of the stops" annotation(__AnchorBend(shown = "stops"));
  parameter Real dStop(unit = "N.s/m", min = 0) = 1e4 "Damping of the stops" annotation(__AnchorBend(shown = "stops"));
  parameter Boolean hold = false "The start place and speed must hold (otherwise they are guesses)";
  parameter Real s0(unit = "m") = 0 "Start place";
  parameter Real v0(unit = "m/s") = 0 "Start speed";
  parameter Boolean driven = false "With a rod that drives it";
  parameter Boolean shows = false "Show the place";
protected
  parameter Real small(unit = "m/s") = 0.001 "Speed from which on dry friction is whole";
  Real s(unit = "m", stateSelect = StateSelect.prefer, start = s0, fixed = hold) "Place on the line";
  Real v(unit = "m/s", stateSelect = StateSelect.prefer, start = v0, fixed = hold) "Speed";
  Real ex(stateSelect = StateSelect.never) "Direction of the line, along";
  Real ey(stateSelect = StateSelect.never) "Direction of the line, upwards";
  Real push(unit = "N") "Force on the second frame along the line";
  Real stop(unit = "N") "Force of the stops";
  Real drive(unit = "N") "Force of the rod";
  Boolean above "At the upper stop";
  Boolean below "At the lower stop";
equation
  ex = cos(a.phi + alpha);
  ey = sin(a.phi + alpha);
  b.phi = a.phi;
  b.x = a.x + s * ex;
  b.y = a.y + s * ey;
  v = der(s);
  above = stops and s > sMax;
  below = stops and s < sMin;
  stop = if above then noEvent(max(0, cStop * (s - sMax) + dStop * v)) elseif below then noEvent(min(0, cStop * (s - sMin) + dStop * v)) else 0;
  push = drive - damping * v - dry * tanh(v / small) - stop;
  b.fx * ex + b.fy * ey = -push;
  a.t + b.t + (b.x - a.x) * b.fy - (b.y - a.y) * b.fx = 0;
  if driven then
    rod.position = s;
    drive = rod.force;
  else
    drive = 0;
  end if;
  if shows then
    place = s;
  end if;
  annotation(__AnchorBend(scene(kind = "slide", x = "a.x", y = "a.y", angle = "a.phi", x2 = "b.x", y2 = "b.y"), group = "Mechanisms", symbol = "slide", keywords = "slide prismatic joint guide rail linear plane mechanism", width = 80, height = 48, help = "The second frame keeps the angle of the first and moves along a line in it.", validity = "No play; dry friction is smoothed below 1 mm/s, so it creeps instead of holding."));
end PlaneSlide;
