model SpeedSource "Speed from a signal"
  input Real u(unit = "m/s") "Speed";
  TranslationalPort b "Point it moves" annotation(__AnchorBend(side = "right"));
  parameter Real s0(unit = "m") = 0 "Start position";
protected
  Real s(unit = "m", start = s0, fixed = true) "Position";
equation
  der(s) = u;
  b.position = s;
  annotation(__AnchorBend(group = "Translational", symbol = "speed", keywords = "speed velocity source motion", width = 64, help = "Moves its port with the signal's speed. Where a mass hangs on it, the signal must be smooth enough to be differentiated.", validity = "Any force."));
end SpeedSource;
