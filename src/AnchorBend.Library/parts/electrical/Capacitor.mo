model Capacitor "Capacitor"
  extends BetweenTerminals;
  parameter Real C(unit = "F", min = 1e-15) = 1e-6 "Capacitance";
  parameter Real v0(unit = "V") = 0 "Start voltage";
  parameter Boolean hold = true "The start voltage must hold (otherwise it is a guess)";
protected
  Real stored(unit = "V", start = v0, fixed = hold) "Voltage that is stored";
equation
  stored = v;
  i = C * der(stored);
  annotation(__AnchorBend(group = "Electrical", symbol = "capacitor", keywords = "capacitor capacitance store", help = "Stores charge. Capacitors in parallel share their voltage; give a start value to one of them only.", validity = "Linear and without losses; constant capacitance."));
end Capacitor;
