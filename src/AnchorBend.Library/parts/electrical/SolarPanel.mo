model SolarPanel "Solar panel lit by a signal"
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "right"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "right"));
  input Real u(unit = "W/m2", min = 0) "Irradiance";
  parameter Real Isc(unit = "A", min = 1e-6) = 6 "Short-circuit current at 1000 W/m²";
  parameter Real Voc(unit = "V", min = 1e-3) = 21.5 "Open-circuit voltage at 1000 W/m²";
  parameter Real Vt(unit = "V", min = 1e-4) = 1.4 "Voltage over which the current falls e-fold at the knee";
  parameter Real Rp(unit = "Ohm", min = 1e-3) = 300 "Parallel resistance";
protected
  parameter Real full(unit = "W/m2") = 1000 "Irradiance at which the currents are given";
  Real v(unit = "V") "Voltage";
equation
  v = p.v - n.v;
  p.i + n.i = 0;
  p.i = -Isc * u / full + (Isc - Voc / Rp) * (exp(v / Vt) - 1) / (exp(Voc / Vt) - 1) + v / Rp;
  annotation(__AnchorBend(group = "Electrical", symbol = "solar", keywords = "solar photovoltaic panel cell irradiance", height = 64, help = "A light-driven current with one diode and a parallel resistance across it. At 1000 W/m² it has the short-circuit current and open-circuit voltage given.", validity = "One diode law at constant cell temperature; uniform light."));
end SolarPanel;
