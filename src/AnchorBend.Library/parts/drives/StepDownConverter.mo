model StepDownConverter "Step-down converter with one switch"
  ElectricalPort p "Positive side of the supply" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Return of both sides" annotation(__AnchorBend(side = "left"));
  ElectricalPort out "Positive side of the load" annotation(__AnchorBend(side = "right"));
  input Boolean gate "The switch conducts" annotation(__AnchorBend(side = "top"));
  output Real current(unit = "A") "Current of the inductor" annotation(__AnchorBend(side = "bottom"));
  parameter Real L(unit = "H", min = 1e-12) = 2e-4 "Inductance";
  parameter Real RL(unit = "Ohm", min = 0) = 0.02 "Resistance of the inductor";
  parameter Real C(unit = "F", min = 1e-12) = 4.7e-4 "Capacitance at the load";
  parameter Real RC(unit = "Ohm", min = 0) = 0 "Series resistance of the capacitor";
  parameter Real v0(unit = "V") = 0 "Voltage of the capacitor at the start";
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 0.01 "Resistance of the switch while it conducts";
  parameter Real Vdiode(unit = "V", min = 0) = 0.6 "Knee voltage of the diodes";
  parameter Real Rdiode(unit = "Ohm", min = 1e-9) = 0.01 "Resistance of the diodes while they conduct";
  parameter Real Goff(unit = "S", min = 1e-12) = 1e-5 "Conductance of what blocks";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  PowerSwitch s(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  Diode d(Vknee = Vdiode, Ron = Rdiode, Goff = Goff);
  Inductor l(L = L);
  Resistor rl(R = RL);
  Capacitor c(C = C, v0 = v0);
  Resistor rc(R = RC);
equation
  s.gate = gate;
  connect(p, s.p);
  connect(n, d.p);
  connect(s.n, d.n);
  connect(s.n, l.p);
  connect(l.n, rl.p);
  connect(rl.n, out);
  connect(out, rc.p);
  connect(rc.n, c.p);
  connect(c.n, n);
  current = l.p.i;
  if heatPort then
    heat.Q = -((s.p.v - s.n.v) * s.p.i + (d.p.v - d.n.v) * d.p.i + RL * l.p.i ^ 2 + RC * c.p.i ^ 2);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "transistor", keywords = "step-down buck converter chopper DC-DC switch diode inductor", height = 80, width = 96, help = "A switch from the supply, a free-wheeling diode, inductor and capacitor. While the current of the inductor does not end within a period, the voltage at the load is the share of the pulses times that of the supply, less the drops (R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2001).", validity = "Switches at once; straight lines about the knee of the diode; no saturation of the inductor."));
end StepDownConverter;
