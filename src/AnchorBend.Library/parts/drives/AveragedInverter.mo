model AveragedInverter "Three-phase inverter, averaged over its switching"
  ElectricalPort p "Positive rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "right"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "right"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "right"));
  input Real duty[3] "Share of the time for which each phase is at the positive rail" annotation(__AnchorBend(vector = true, side = "top"));
  parameter Real R(unit = "Ohm", min = 0) = 0 "Resistance of each switch";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real d[3] "Shares within 0 and 1";
  Real v(unit = "V") "Voltage between the rails";
equation
  v = p.v - n.v;
  for k in 1:3 loop
    d[k] = max(0, min(1, duty[k]));
  end for;
  a.v = n.v + d[1] * v + R * a.i;
  b.v = n.v + d[2] * v + R * b.i;
  c.v = n.v + d[3] * v + R * c.i;
  p.i + d[1] * a.i + d[2] * b.i + d[3] * c.i = 0;
  p.i + n.i + a.i + b.i + c.i = 0;
  if heatPort then
    heat.Q = -(R * (a.i ^ 2 + b.i ^ 2 + c.i ^ 2));
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "bridge", keywords = "inverter three-phase averaged bridge duty drive converter", height = 96, width = 80, help = "Each phase has the mean of the rail voltages over a switching period, and draws from the rails what it delivers: the power of the rails is that of the phases and of the losses in the switches, at every instant. Fast to run, without ripple.", validity = "Slow against the switching; no dead time, no ripple, no drop of the diodes."));
end AveragedInverter;
