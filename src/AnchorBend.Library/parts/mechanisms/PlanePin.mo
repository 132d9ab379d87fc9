model PlanePin "Pin joint"
  extends BetweenFrames;
  RotationalPort shaft if driven "Drive of the second frame against the first" annotation(__AnchorBend(side = "top", optional = "driven"));
  output Real angle(unit = "rad") if shows "Angle of the second frame against the first" annotation(__AnchorBend(side = "bottom", optional = "shows"));
  parameter Real damping(unit = "N.m.s/rad", min = 0) = 0 "Viscous friction";
  parameter Real dry(unit = "N.m", min = 0) = 0 "Dry friction";
  parameter Boolean stops = false "With stops";
  parameter Real qMin(unit = "rad", displayUnit = "deg") = -1.5707963267948966 "Lower stop" annotation(__AnchorBend(shown = "stops"));
  parameter Real qMax(unit = "rad", displayUnit = "deg", min = qMin) = 1.5707963267948966 "Upper stop" annotation(__AnchorBend(shown = "stops"));
  parameter Real cStop(unit = "N.m/rad", min = 0) = 1e5 "Stiffness of the stops" annotation(__AnchorBend(shown = "stops"));
  parameter Real dStop(unit = "N.m.s/rad", min = 0) = 1e3 "Damping of the stops" annotation(__AnchorBend(shown = "stops"));
  parameter Boolean hold = false "The start angle and speed must hold (otherwise they are guesses)";
  parameter Real q0(unit = "rad", displayUnit = "deg") = 0 "Start angle";
  parameter Real w0(unit = "rad/s") = 0 "Start speed";
  parameter Boolean driven = false "With a shaft that drives it";
  parameter Boolean shows = false "Show the angle";
protected
  parameter Real small(unit = "rad/s") = 0.01 "Speed from which on dry friction is whole";
  Real q(unit = "rad", displayUnit = "deg", stateSelect = StateSelect.prefer, start = q0, fixed = hold) "Angle";
  Real w(unit = "rad/s", stateSelect = StateSelect.prefer, start = w0, fixed = hold) "Speed";
  Real turns(unit = "N.m") "Torque on the second frame";
  Real stop(unit = "N.m") "Torque of the stops";
  Real drive(unit = "N.m") "Torque of the shaft";
  Boolean above "At the upper stop";
  Boolean below "At the lower stop";
equation
  a.x = b.x;
  a.y = b.y;
  q = b.phi - a.phi;
  w = der(q);
  above = stops and q > qMax;
  below = stops and q < qMin;
  stop = if above then noEvent(max(0, cStop * (q - qMax) + dStop * w)) elseif below then noEvent(min(0, cStop * (q - qMin) + dStop * w)) else 0;
  turns = drive - damping * w - dry * tanh(w / small) - stop;
  b.t = -turns;
  a.t = turns;
  if driven then
    shaft.angle = q;
    drive = shaft.torque;
  else
    drive = 0;
  end if;
  if shows then
    angle = q;
  end if;
  annotation(__AnchorBend(scene(kind = "pin", x = "a.x", y = "a.y", angle = "a.phi"), group = "Mechanisms", symbol = "pin", keywords = "pin joint revolute hinge bearing plane mechanism", width = 64, height = 48, help = "Two frames share their place and may turn against each other. Closed chains may be made of any number of pins: their constraints are differentiated, and the start is solved from whatever is given.", validity = "No play; dry friction is smoothed below 0.01 rad/s, so it creeps instead of holding."));
end PlanePin;
