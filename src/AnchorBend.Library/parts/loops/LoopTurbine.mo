model LoopTurbine "Turbine"
  extends BetweenFluidPorts;
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "bottom"));
  parameter Real p1(unit = "Pa", displayUnit = "bar", min = 1) = 1e6 "Inlet pressure at the working point" annotation(__AnchorBend(group = "Working point"));
  parameter Real T1(unit = "K", displayUnit = "degC", min = 50) = 900 "Inlet temperature at the working point" annotation(__AnchorBend(group = "Working point"));
  parameter Real p2(unit = "Pa", displayUnit = "bar", min = 1) = 2e5 "Outlet pressure at the working point" annotation(__AnchorBend(group = "Working point"));
  parameter Real m1(unit = "kg/s", min = 1e-9) = 1 "Flow at the working point" annotation(__AnchorBend(group = "Working point"));
  parameter Real n1(unit = "rad/s", displayUnit = "rpm", min = 1e-3) = 1500 "Speed at the working point" annotation(__AnchorBend(group = "Working point"));
  parameter Real eta(unit = "1", min = 0.01, max = 1) = 0.7 "Isentropic efficiency at the working point" annotation(__AnchorBend(group = "Working point"));
protected
  parameter Real h1(unit = "J/kg") = fluidEnthalpy(a.medium, a.share, p1, T1) "Specific enthalpy at the working point";
  parameter Real d1(unit = "kg/m3") = fluidDensity(a.medium, a.share, p1, h1) "Density at the working point";
  parameter Real swallows(unit = "m2") = m1 / sqrt(p1 * d1 * (1 - (p2 / p1) ^ 2)) "Constant of the law of the ellipse";
  parameter Real cp1(unit = "J/(kg.K)") = fluidHeatCapacity(a.medium, a.share, p1, h1);
  parameter Real jet1(unit = "m/s") = sqrt(2 * cp1 * T1 * (1 - (p2 / p1) ^ (p1 / (d1 * T1 * cp1)))) "Speed of a jet at the working point";
  Real T(unit = "K", displayUnit = "degC", start = 900, nominal = 500) "Temperature at the inlet";
  Real cp(unit = "J/(kg.K)", start = 1200, nominal = 1e3) "Specific heat at constant pressure";
  Real gas(unit = "J/(kg.K)", start = 290, nominal = 300) "Gas constant";
  Real ratio(unit = "1", start = 0.5) "Outlet by inlet pressure";
  Real drop(unit = "J/kg", displayUnit = "kJ/kg", nominal = 1e5) "Isentropic work of a kilogram";
  Real w(unit = "rad/s", displayUnit = "rpm") "Speed";
  Real nu(unit = "1") "Speed by that of the jet, and both by those of the working point";
  Real good(unit = "1") "Efficiency";
  Real work(unit = "J/kg", displayUnit = "kJ/kg", nominal = 1e5) "Work of a kilogram";
  Real power(unit = "W", displayUnit = "kW", nominal = 1e4) "Power at the shaft";
equation
  T = fluidTemperature(a.medium, a.share, a.p, inStream(a.h));
  cp = fluidHeatCapacity(a.medium, a.share, a.p, inStream(a.h));
  gas = a.p / (da * T);
  m = swallows * sqrt(noEvent(if dp > 0 then da / max(1, a.p) else db / max(1, b.p)) * (a.p + b.p)) * dp / sqrt(sqrt(dp ^ 2 + 100 ^ 2));
  ratio = noEvent(min(1, max(b.p / a.p, 1e-3)));
  drop = cp * T * (1 - ratio ^ (gas / cp));
  w = der(shaft.angle);
  nu = noEvent(max(0, w)) / n1 * jet1 / sqrt(2 * drop + 1);
  good = eta * (2 * nu - nu ^ 2);
  work = good * drop;
  power = noEvent(max(m, 0)) * work;
  // From standstill the torque is twice that of the best speed.
  shaft.torque = -noEvent(max(m, 0)) * eta * drop * (2 - nu) * jet1 / (n1 * sqrt(2 * drop + 1));
  b.h = inStream(a.h) - work;
  a.h = inStream(b.h) - work;
  annotation(__AnchorBend(group = "Fluid loops", symbol = "turbine", keywords = "turbine expander gas steam shaft power expansion", width = 64, height = 64, formula = "\\dot m = K \\sqrt{(p_1^2 - p_2^2) \\varrho_1 / p_1}", help = "Flow by Stodola's law of the ellipse through its working point; work is the isentropic one of an ideal gas times an efficiency that is best at the speed of the working point and falls as a parabola of the ratio of speeds (impulse stages).", validity = "A gas or superheated steam that enters at a; one efficiency for all stages; no reversal of power."));
end LoopTurbine;
