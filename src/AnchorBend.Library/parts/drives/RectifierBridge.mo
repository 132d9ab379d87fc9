model RectifierBridge "Rectifier of six diodes"
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "left"));
  ElectricalPort p "Positive rail" annotation(__AnchorBend(side = "right"));
  ElectricalPort n "Negative rail" annotation(__AnchorBend(side = "right"));
  parameter Real Vknee(unit = "V", min = 0) = 0.8 "Knee voltage of a diode";
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of a diode while it conducts";
  parameter Real Goff(unit = "S", min = 1e-15) = 1e-7 "Conductance of a diode while it blocks";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Diode d1(Vknee = Vknee, Ron = Ron, Goff = Goff);
  Diode d2(Vknee = Vknee, Ron = Ron, Goff = Goff);
  Diode d3(Vknee = Vknee, Ron = Ron, Goff = Goff);
  Diode d4(Vknee = Vknee, Ron = Ron, Goff = Goff);
  Diode d5(Vknee = Vknee, Ron = Ron, Goff = Goff);
  Diode d6(Vknee = Vknee, Ron = Ron, Goff = Goff);
equation
  connect(a, d1.p);
  connect(b, d3.p);
  connect(c, d5.p);
  connect(d1.n, p);
  connect(d3.n, p);
  connect(d5.n, p);
  connect(n, d2.p);
  connect(n, d4.p);
  connect(n, d6.p);
  connect(d2.n, a);
  connect(d4.n, b);
  connect(d6.n, c);
  if heatPort then
    heat.Q = -(p.v * p.i + n.v * n.i + a.v * a.i + b.v * b.i + c.v * c.i);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "diode", keywords = "rectifier bridge six pulse diode three-phase DC link", height = 96, width = 80, help = "Three phases into two rails: at each instant the highest phase feeds the positive rail and the lowest one takes from the negative one. Without inductance in the phases its mean is 3√3/π of their amplitude.", validity = "Diodes of straight lines, without reverse recovery."));
end RectifierBridge;
