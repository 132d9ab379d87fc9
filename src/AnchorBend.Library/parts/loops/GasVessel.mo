model GasVessel "Closed vessel with gas above the fluid"
  FluidPort a "Port at its bottom" annotation(__AnchorBend(side = "bottom"));
  output Real y(unit = "m") "Level" annotation(__AnchorBend(side = "right", optional = "levelSignal"));
  parameter Boolean levelSignal = false "Show the level";
  parameter Real V(unit = "m3", displayUnit = "l", min = 1e-9) = 0.05 "Volume of the vessel";
  parameter Real area(unit = "m2", min = 1e-6) = 0.1 "Cross-section";
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 1) = a.p0 "Start pressure of the gas";
  parameter Real gas0(unit = "1", min = 0.01, max = 0.999) = 0.5 "Share of the volume that gas fills at the start";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 50) = a.T0 "Start temperature of the fluid";
  parameter Real n(unit = "1", min = 1, max = 2) = 1.2 "Polytropic exponent of the gas";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-4) = 0.03 "Inner diameter of its port";
  parameter Real zeta(unit = "1", min = 0.01) = 1 "Loss factor of the port";
  parameter Boolean hold = true "The start values must hold (otherwise they are guesses)";
  parameter Real c0[a.traces](each unit = "kg/kg") = zeros(a.traces) "Trace substances at the start";
protected
  constant Real g(unit = "m/s2") = 9.80665 "Gravity";
  parameter Real h0(unit = "J/kg") = fluidEnthalpy(a.medium, a.share, p0, T0) "Specific enthalpy at the start";
  parameter Real d0(unit = "kg/m3") = fluidDensity(a.medium, a.share, p0, h0) "Density at the start";
  parameter Real opening(unit = "m2") = 3.141592653589793 / 4 * D ^ 2;
  Real M(unit = "kg", start = V * (1 - gas0) * d0, fixed = hold, nominal = 10) "Mass of the fluid";
  Real H(unit = "J", start = V * (1 - gas0) * d0 * h0, fixed = hold, nominal = 1e6) "Enthalpy of the fluid";
  Real Z[a.traces](each unit = "kg", start = V * (1 - gas0) * d0 * c0, each fixed = hold) "Mass of trace substances";
  Real h(unit = "J/kg", displayUnit = "kJ/kg", start = h0, nominal = 1e5) "Specific enthalpy";
  Real d(unit = "kg/m3", start = d0, nominal = 1000) "Density";
  Real T(unit = "K", displayUnit = "degC", start = T0, nominal = 300) "Temperature of the fluid";
  Real gas(unit = "1", start = gas0) "Share of the volume that gas fills";
  Real p(unit = "Pa", displayUnit = "bar", start = p0, nominal = 1e5) "Pressure of the gas";
  Real c[a.traces](each unit = "kg/kg") "Trace substances";
equation
  H = M * h;
  Z = M * c;
  // Far below the gas the density hardly changes with its pressure: that at the start counts.
  d = fluidDensity(a.medium, a.share, p0, h);
  T = fluidTemperature(a.medium, a.share, p0, h);
  gas = 1 - M / (d * V);
  p = p0 * (gas0 / noEvent(max(gas, 1e-4))) ^ n;
  y = M / (d * area);
  der(M) = a.m;
  der(H) = a.m * actualStream(a.h);
  for k in 1:a.traces loop
    der(Z[k]) = a.m * actualStream(a.c[k]);
  end for;
  a.m = lossFlow(a.p - p - d * g * y, opening, zeta, fluidDensity(a.medium, a.share, a.p, inStream(a.h)), d, 100);
  a.h = h;
  a.c = c;
  assert(gas > 0, "The vessel is full: no gas is left.", AssertionLevel.warning);
  assert(gas < 1, "The vessel is empty: gas blows through its port.", AssertionLevel.warning);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "accumulator", keywords = "gas loaded vessel expansion pressurizer accumulator surge closed", width = 64, height = 64, formula = "p = p_0 (V_{g,0} / V_g)^n", help = "Holds the pressure of a closed loop as its fluid expands: a cushion of gas that is pressed together. The work on the fluid is small against its heat and left out.", validity = "A liquid; gas by one polytropic exponent, none of it dissolves or leaves."));
end GasVessel;
