model FieldMachine "Direct-current machine with field winding"
  ElectricalPort p "Positive terminal of the armature" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative terminal of the armature" annotation(__AnchorBend(side = "left"));
  ElectricalPort fp "Positive terminal of the field" annotation(__AnchorBend(side = "left"));
  ElectricalPort fn "Negative terminal of the field" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Real R(unit = "Ohm", min = 1e-9) = 0.5 "Resistance of the armature";
  parameter Real L(unit = "H", min = 1e-12) = 2e-3 "Inductance of the armature";
  parameter Real Rf(unit = "Ohm", min = 1e-9) = 100 "Resistance of the field";
  parameter Real Lf(unit = "H", min = 1e-12) = 10 "Inductance of the field";
  parameter Real M(unit = "H", min = 0) = 0.5 "Voltage of the armature for speed and current of the field";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the windings" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real i(unit = "A", start = 0, fixed = true) "Current of the armature";
  Real f(unit = "A", start = 0, fixed = true) "Current of the field";
  Real w(unit = "rad/s") "Speed";
equation
  w = der(shaft.angle);
  p.i = i;
  n.i = -i;
  fp.i = f;
  fn.i = -f;
  p.v - n.v = R * i + L * der(i) + M * f * w;
  fp.v - fn.v = Rf * f + Lf * der(f);
  shaft.torque = -M * f * i;
  if heatPort then
    heat.Q = -(R * i ^ 2 + Rf * f ^ 2);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "motor", keywords = "direct current DC machine separately excited shunt series field winding weakening", height = 96, width = 80, help = "The field is fed by itself, or joined beside or behind the armature for a shunt or a series machine. Voltage M i_f ω, torque M i_f i.", validity = "No saturation of the field, no reaction of the armature on it, no drop at the brushes."));
end FieldMachine;
