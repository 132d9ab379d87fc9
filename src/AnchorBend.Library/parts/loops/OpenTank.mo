model OpenTank "Open tank"
  FluidPort a "Port at its bottom" annotation(__AnchorBend(side = "left"));
  FluidPort b "Second port" annotation(__AnchorBend(side = "right"));
  ThermalPort heat if heatPort "Wall" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  output Real y(unit = "m") "Level" annotation(__AnchorBend(side = "top", optional = "levelSignal"));
  parameter Boolean levelSignal = true "Show the level";
  parameter Real area(unit = "m2", min = 1e-6) = 1 "Cross-section";
  parameter Real height(unit = "m", min = 1e-3) = 2 "Height";
  parameter Real above(unit = "m", min = 0) = 0 "Height of the second port above the bottom";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-4) = 0.05 "Inner diameter of its ports";
  parameter Real zeta(unit = "1", min = 0.01) = 1 "Loss factor of a port";
  parameter Real ambient(unit = "Pa", displayUnit = "bar", min = 1) = 101325 "Pressure above the surface";
  parameter Real level0(unit = "m", min = 0) = 1 "Start level";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 50) = a.T0 "Start temperature";
  parameter Boolean heatPort = false "Show a heat port";
  parameter Boolean hold = true "The start values must hold (otherwise they are guesses)";
  parameter Real c0[a.traces](each unit = "kg/kg") = zeros(a.traces) "Trace substances at the start";
  parameter Real made[a.traces](each unit = "kg/s") = zeros(a.traces) "Trace substances made in it";
protected
  constant Real g(unit = "m/s2") = 9.80665 "Gravity";
  parameter Real h0(unit = "J/kg") = fluidEnthalpy(a.medium, a.share, ambient, T0) "Specific enthalpy at the start";
  parameter Real d0(unit = "kg/m3") = fluidDensity(a.medium, a.share, ambient, h0) "Density at the start";
  parameter Real opening(unit = "m2") = 3.141592653589793 / 4 * D ^ 2;
  Real M(unit = "kg", start = area * level0 * d0, fixed = hold, nominal = 100) "Mass";
  Real H(unit = "J", start = area * level0 * d0 * h0, fixed = hold, nominal = 1e7) "Enthalpy";
  Real Z[a.traces](each unit = "kg", start = area * level0 * d0 * c0, each fixed = hold) "Mass of trace substances";
  Real level(unit = "m", start = level0) "Level";
  Real T(unit = "K", displayUnit = "degC", start = T0, nominal = 300) "Temperature";
  Real h(unit = "J/kg", displayUnit = "kJ/kg", start = h0, nominal = 1e5) "Specific enthalpy";
  Real d(unit = "kg/m3", start = d0, nominal = 1000) "Density";
  Real c[a.traces](each unit = "kg/kg") "Trace substances";
  Real Q(unit = "W") "Heat from the wall";
equation
  H = M * h;
  Z = M * c;
  d = fluidDensity(a.medium, a.share, ambient, h);
  T = fluidTemperature(a.medium, a.share, ambient, h);
  M = d * area * level;
  y = level;
  der(M) = a.m + b.m;
  der(H) = a.m * actualStream(a.h) + b.m * actualStream(b.h) + Q;
  for k in 1:a.traces loop
    der(Z[k]) = a.m * actualStream(a.c[k]) + b.m * actualStream(b.c[k]) - a.decay[k] * Z[k] + made[k];
  end for;
  a.m = lossFlow(a.p - ambient - d * g * level, opening, zeta, fluidDensity(a.medium, a.share, a.p, inStream(a.h)), d, 100);
  b.m = lossFlow(b.p - ambient - d * g * noEvent(max(level - above, 0)), opening, zeta, fluidDensity(a.medium, a.share, b.p, inStream(b.h)), d, 100);
  a.h = h;
  b.h = h;
  a.c = c;
  b.c = c;
  if heatPort then
    heat.T = T;
    heat.Q = Q;
  else
    Q = 0;
  end if;
  assert(level > 0, "The tank is empty.", AssertionLevel.warning);
  assert(level < height, "The tank runs over.", AssertionLevel.warning);
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "tank", keywords = "open tank basin level expansion header storage", width = 64, height = 64, help = "Fluid with a free surface. Its mass and its enthalpy are kept; the level follows, and with it the pressure at its ports. A port above the surface meets the pressure of the air.", validity = "Well mixed; a port above the surface still lets fluid out where it is sucked at; the tank neither runs dry nor over, which is told."));
end OpenTank;
