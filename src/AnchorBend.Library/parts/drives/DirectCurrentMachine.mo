model DirectCurrentMachine "Direct-current machine with permanent magnets"
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Real R(unit = "Ohm", min = 1e-9) = 0.5 "Resistance of the armature";
  parameter Real L(unit = "H", min = 1e-12) = 1e-3 "Inductance of the armature";
  parameter Real k(unit = "N.m/A") = 0.1 "Torque a current, and voltage a speed";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the armature" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real i(unit = "A", start = 0, fixed = true) "Current of the armature";
  Real w(unit = "rad/s") "Speed";
equation
  w = der(shaft.angle);
  p.i = i;
  n.i = -i;
  p.v - n.v = R * i + L * der(i) + k * w;
  shaft.torque = -k * i;
  if heatPort then
    heat.Q = -R * i ^ 2;
  end if;
  annotation(__AnchorBend(dataSheet = "directCurrent", group = "Drives", symbol = "motor", keywords = "direct current DC machine motor generator armature brush permanent magnet", height = 64, width = 80, help = "Armature with resistance and inductance, voltage k ω and torque k i: electrical power k ω i is mechanical power at every instant. Add an inertia at the shaft.", validity = "No saturation, no drop at the brushes, no friction, no losses in the iron."));
end DirectCurrentMachine;
