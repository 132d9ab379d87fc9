model Inductor "Inductor"
  extends BetweenTerminals;
  parameter Real L(unit = "H", min = 1e-15) = 1e-3 "Inductance";
  parameter Real i0(unit = "A") = 0 "Start current";
  parameter Boolean hold = true "The start current must hold (otherwise it is a guess)";
protected
  Real stored(unit = "A", start = i0, fixed = hold) "Current that is stored";
equation
  stored = i;
  v = L * der(stored);
  annotation(__AnchorBend(group = "Electrical", symbol = "inductor", keywords = "inductor coil inductance winding", help = "Stores magnetic energy. Inductors in series share their current; give a start value to one of them only.", validity = "Linear and without losses; no saturation of a core."));
end Inductor;
