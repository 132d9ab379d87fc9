model HalfBridge "Half-bridge with dead time"
  ElectricalPort p "Positive rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort a "Phase" annotation(__AnchorBend(side = "right"));
  input Boolean u "The phase goes to the positive rail" annotation(__AnchorBend(side = "top"));
  input Boolean enabled = true "Switches; all are open while false" annotation(__AnchorBend(side = "top", optional = "canDisable"));
  parameter Real deadTime(unit = "s", min = 0) = 1e-6 "Time for which both switches are open at a change";
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of a switch while it conducts";
  parameter Real Vdiode(unit = "V", min = 0) = 0.8 "Knee voltage of a diode";
  parameter Real Rdiode(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of a diode while it conducts";
  parameter Real Goff(unit = "S", min = 1e-12) = 1e-6 "Conductance of a switch while it blocks";
  parameter Boolean canDisable = false "With an input that opens all switches";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  PowerSwitch upper(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff) "Switch to the positive rail";
  PowerSwitch lower(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff) "Switch to the negative rail";
  discrete Real since(unit = "s", start = -1e9, fixed = true) "Last change of the command";
equation
  when {u, not u} then
    since = time;
  end when;
  upper.gate = enabled and u and time >= since + deadTime;
  lower.gate = enabled and not u and time >= since + deadTime;
  connect(p, upper.p);
  connect(upper.n, a);
  connect(a, lower.p);
  connect(lower.n, n);
  if heatPort then
    heat.Q = -(p.v * p.i + n.v * n.i + a.v * a.i);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "bridge", keywords = "half bridge leg phase dead time inverter free-wheeling", height = 64, width = 64, help = "Two switches with their diodes. At each change of the command both are open for the dead time, in which the current goes on through a diode.", validity = "Commands that change within the dead time keep both switches open."));
end HalfBridge;
