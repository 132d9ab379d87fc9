model AngleSource "Angle from a signal"
  input Real u(unit = "rad") "Angle";
  RotationalPort b "Shaft it turns" annotation(__AnchorBend(side = "right"));
  parameter Real T(unit = "s", min = 1e-6) = 1e-3 "Time constant that makes the motion smooth";
protected
  Real phi(unit = "rad") "Angle";
  Real w(unit = "rad/s", start = 0, fixed = true) "Speed";
initial equation
  phi = u;
equation
  der(phi) = w;
  T ^ 2 * der(w) = u - phi - 2 * T * w;
  b.angle = phi;
  annotation(__AnchorBend(group = "Rotational", symbol = "position", keywords = "angle source position servo", width = 64, help = "Turns its shaft to the signal's angle, with whatever torque that needs, through a short critically damped filter.", validity = "Any torque; the angle must be smooth enough to have a speed."));
end AngleSource;
