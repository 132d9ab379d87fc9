model PowerSensor "Power that passes"
  ElectricalPort p "From the source" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "To the load" annotation(__AnchorBend(side = "right"));
  ElectricalPort r "Return of both" annotation(__AnchorBend(side = "bottom"));
  output Real y(unit = "W") "Power from p to n" annotation(__AnchorBend(side = "top"));
equation
  p.v = n.v;
  p.i + n.i = 0;
  r.i = 0;
  y = (p.v - r.v) * p.i;
  annotation(__AnchorBend(group = "Electrical", symbol = "wattmeter", keywords = "power sensor wattmeter energy measurement", width = 64, help = "Measures the power that flows from p to n against the common return.", validity = "Ideal: neither voltage drop nor current of its own."));
end PowerSensor;
