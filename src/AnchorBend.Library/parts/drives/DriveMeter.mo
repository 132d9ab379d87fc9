model DriveMeter "Power and losses of a drive"
  ElectricalPort a "Phase a, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort a2 "Phase a, machine" annotation(__AnchorBend(side = "right"));
  ElectricalPort b2 "Phase b, machine" annotation(__AnchorBend(side = "right"));
  ElectricalPort c2 "Phase c, machine" annotation(__AnchorBend(side = "right"));
  RotationalPort shaft "Shaft of the machine" annotation(__AnchorBend(side = "right"));
  RotationalPort load "Shaft of the load" annotation(__AnchorBend(side = "right"));
  output Real electrical(unit = "W") "Power into the machine" annotation(__AnchorBend(side = "bottom"));
  output Real mechanical(unit = "W") "Power into the load" annotation(__AnchorBend(side = "bottom"));
  output Real torque(unit = "N.m") "Torque into the load" annotation(__AnchorBend(side = "bottom"));
  output Real losses(unit = "W") "What is lost or stored between" annotation(__AnchorBend(side = "bottom"));
equation
  a.v = a2.v;
  b.v = b2.v;
  c.v = c2.v;
  a.i + a2.i = 0;
  b.i + b2.i = 0;
  c.i + c2.i = 0;
  shaft.angle = load.angle;
  shaft.torque + load.torque = 0;
  electrical = a.v * a.i + b.v * b.i + c.v * c.i;
  torque = shaft.torque;
  mechanical = torque * der(shaft.angle);
  losses = electrical - mechanical;
  annotation(__AnchorBend(group = "Drives", symbol = "wattmeter", keywords = "power meter torque meter losses efficiency drive machine test bench", height = 128, width = 80, help = "Stands between feed, machine and load, and measures without loading them. In steady state what goes in and does not come out is lost; in motion a part of it is stored in the fields.", validity = "Phases that add up to no current; otherwise the power depends on where the voltages are counted from."));
end DriveMeter;
