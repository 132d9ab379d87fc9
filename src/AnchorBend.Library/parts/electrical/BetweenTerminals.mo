partial model BetweenTerminals "Something between two terminals"
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "right"));
protected
  Real v(unit = "V") "Voltage from p to n";
  Real i(unit = "A") "Current from p to n";
equation
  v = p.v - n.v;
  p.i = i;
  n.i = -i;
end BetweenTerminals;
