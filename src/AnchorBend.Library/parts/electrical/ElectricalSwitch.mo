model ElectricalSwitch "Switch that a condition closes"
  extends BetweenTerminals;
  input Boolean closed "Closed while true" annotation(__AnchorBend(side = "top"));
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 1e-3 "Resistance while closed";
  parameter Real Goff(unit = "S", min = 1e-15) = 1e-8 "Conductance while open";
protected
  parameter Real Gunit(unit = "S") = 1 "Unit conductance";
  Real x(unit = "A") "Place on the line through zero";
equation
  v = x * (if closed then Ron else 1 / Gunit);
  i = x * (if closed then 1 else Goff / Gunit);
  annotation(__AnchorBend(group = "Electrical", title = "Switch (electrical)", symbol = "contact", keywords = "switch relay contactor transistor open close", help = "A small resistance while closed, a small conductance while open.", validity = "Closes and opens at once, without arc or bounce; both resistances are above zero."));
end ElectricalSwitch;
