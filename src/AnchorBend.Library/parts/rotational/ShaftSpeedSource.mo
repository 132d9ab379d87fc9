model ShaftSpeedSource "Shaft speed from a signal"
  input Real u(unit = "rad/s") "Speed";
  RotationalPort b "Shaft it turns" annotation(__AnchorBend(side = "right"));
  parameter Real angle0(unit = "rad", displayUnit = "deg") = 0 "Start angle";
protected
  Real phi(unit = "rad", start = angle0, fixed = true) "Angle";
equation
  der(phi) = u;
  b.angle = phi;
  annotation(__AnchorBend(group = "Rotational", symbol = "speed", keywords = "speed rpm engine drive source", width = 64, help = "Turns its shaft with the signal's speed. Where an inertia hangs on it, the signal must be smooth enough to be differentiated.", validity = "Any torque."));
end ShaftSpeedSource;
