model Accumulator "Accumulator with gas charge"
  HydraulicPort a "Port" annotation(__AnchorBend(side = "bottom"));
  parameter Real V(unit = "m3", displayUnit = "l", min = 1e-9) = 2e-3 "Whole volume";
  parameter Real pre(unit = "Pa", displayUnit = "bar", min = 1e3) = 5e6 "Pressure of the gas when empty of fluid";
  parameter Real n(unit = "1", min = 1, max = 1.7) = 1.3 "Polytropic exponent";
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 1e3) = 8e6 "Start pressure";
protected
  parameter Real fill0 = noEvent(if p0 > pre then V * (1 - (pre / p0) ^ (1 / n)) else 0);
  Real fill(unit = "m3", displayUnit = "l", start = fill0, fixed = true, nominal = 1e-3) "Fluid in it";
equation
  der(fill) = a.q;
  a.p = pre * (V / noEvent(max(1e-3 * V, V - fill))) ^ n + noEvent(min(0, fill)) * 1e4 * pre / V;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "accumulator", keywords = "accumulator bladder gas store buffer", width = 48, height = 56, help = "Stores fluid against a polytropic gas. Empty, it is stiff. Keep its start pressure above the gas charge.", validity = "Gas changes along its polytropic law; precharge above zero; empty or full, it acts like a stiff end."));
end Accumulator;
