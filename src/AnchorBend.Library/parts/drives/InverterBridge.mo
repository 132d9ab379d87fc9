model InverterBridge "Three-phase inverter of six switches"
  ElectricalPort p "Positive rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative rail" annotation(__AnchorBend(side = "left"));
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "right"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "right"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "right"));
  input Boolean upper[3] "Switches to the positive rail" annotation(__AnchorBend(vector = true, side = "bottom"));
  input Boolean lower[3] "Switches to the negative rail" annotation(__AnchorBend(vector = true, side = "bottom"));
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of a switch while it conducts";
  parameter Real Vdiode(unit = "V", min = 0) = 0.8 "Knee voltage of a diode";
  parameter Real Rdiode(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of a diode while it conducts";
  parameter Real Goff(unit = "S", min = 1e-12) = 1e-6 "Conductance of a switch while it blocks";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "top", optional = "heatPort"));
protected
  PowerSwitch s1(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  PowerSwitch s2(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  PowerSwitch s3(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  PowerSwitch s4(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  PowerSwitch s5(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
  PowerSwitch s6(Ron = Ron, Vdiode = Vdiode, Rdiode = Rdiode, Goff = Goff);
equation
  s1.gate = upper[1];
  s3.gate = upper[2];
  s5.gate = upper[3];
  s2.gate = lower[1];
  s4.gate = lower[2];
  s6.gate = lower[3];
  connect(p, s1.p);
  connect(p, s3.p);
  connect(p, s5.p);
  connect(s1.n, a);
  connect(s3.n, b);
  connect(s5.n, c);
  connect(a, s2.p);
  connect(b, s4.p);
  connect(c, s6.p);
  connect(s2.n, n);
  connect(s4.n, n);
  connect(s6.n, n);
  if heatPort then
    heat.Q = -(p.v * p.i + n.v * n.i + a.v * a.i + b.v * b.i + c.v * c.i);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "bridge", keywords = "inverter three-phase bridge six switches transistor free-wheeling drive", height = 128, width = 96, help = "Six switches with their diodes between two rails and three phases. A phase whose switches are both open is free: its current goes on through a diode until it ends, and its terminal then follows what the load induces.", validity = "Switches act at once; both switches of a phase closed is a short circuit of the rails through their resistances."));
end InverterBridge;
