model PositionSource "Position from a signal"
  input Real u(unit = "m") "Position";
  TranslationalPort b "Point it moves" annotation(__AnchorBend(side = "right"));
  parameter Real T(unit = "s", min = 1e-6) = 1e-3 "Time constant that makes the motion smooth";
protected
  Real s(unit = "m") "Position";
  Real v(unit = "m/s", start = 0, fixed = true) "Speed";
initial equation
  s = u;
equation
  der(s) = v;
  T ^ 2 * der(v) = u - s - 2 * T * v;
  b.position = s;
  annotation(__AnchorBend(group = "Translational", symbol = "position", keywords = "position source motion drive stroke", width = 64, help = "Moves its port as the signal says, with whatever force that needs. A critically damped filter with a short time constant makes speed and acceleration finite.", validity = "Any force; the position must be smooth enough to have a speed."));
end PositionSource;
