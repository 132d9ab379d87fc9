model Supercapacitor "Supercapacitor"
  extends BetweenTerminals;
  parameter Real C0(unit = "F", min = 1e-6) = 300 "Capacitance at no voltage";
  parameter Real kv(unit = "F/V", min = 0) = 40 "Rise of the capacitance with the voltage";
  parameter Real R(unit = "Ohm", displayUnit = "mOhm", min = 1e-9) = 5e-3 "Series resistance";
  parameter Real R2(unit = "Ohm", min = 1e-9) = 1 "Resistance to the slow part";
  parameter Real C2(unit = "F", min = 1e-9) = 30 "Capacitance of the slow part";
  parameter Real Rl(unit = "Ohm", displayUnit = "kOhm", min = 1e-3) = 5000 "Leakage";
  parameter Real v0(unit = "V", min = 0) = 0 "Voltage at the start";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  output Real energy(unit = "J") "Energy that is stored" annotation(__AnchorBend(side = "top"));
protected
  Real vc(unit = "V", start = v0, fixed = true) "Voltage of the fast part";
  Real v2(unit = "V", start = v0, fixed = true) "Voltage of the slow part";
equation
  v = vc + R * i;
  (C0 + 2 * kv * vc) * der(vc) = i - (vc - v2) / R2 - vc / Rl;
  C2 * der(v2) = (vc - v2) / R2;
  energy = C0 * vc ^ 2 / 2 + 2 * kv * vc ^ 3 / 3 + C2 * v2 ^ 2 / 2;
  if heatPort then
    heat.Q = -(R * i ^ 2 + (vc - v2) ^ 2 / R2 + vc ^ 2 / Rl);
  end if;
  annotation(__AnchorBend(group = "Energy stores", symbol = "capacitor", keywords = "supercapacitor ultracapacitor double layer capacitor energy store", width = 80, help = "A charge C₀ v + k v² behind a series resistance, a slow part beside it that takes charge over again, and a leakage (L. Zubieta, R. Bonert, Characterization of double-layer capacitors, 2000). What is put in is stored or heat.", validity = "Voltages of one polarity within the rating; no change with temperature."));
end Supercapacitor;
