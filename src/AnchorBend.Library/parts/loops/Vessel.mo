model Vessel "Closed vessel full of fluid"
  FluidPort a "First port" annotation(__AnchorBend(side = "left"));
  FluidPort b "Second port" annotation(__AnchorBend(side = "right"));
  ThermalPort heat if heatPort "Wall" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  parameter Real V(unit = "m3", displayUnit = "l", min = 1e-9) = 0.01 "Volume";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-4) = 0.03 "Inner diameter of its ports";
  parameter Real zeta(unit = "1", min = 0.01) = 1 "Loss factor of a port";
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 1) = a.p0 "Start pressure";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 50) = a.T0 "Start temperature";
  parameter Boolean heatPort = false "Show a heat port";
  parameter Boolean hold = true "The start values must hold (otherwise they are guesses)";
  parameter Real c0[a.traces](each unit = "kg/kg") = zeros(a.traces) "Trace substances at the start";
  parameter Real made[a.traces](each unit = "kg/s") = zeros(a.traces) "Trace substances made in it";
protected
  parameter Real h0(unit = "J/kg") = fluidEnthalpy(a.medium, a.share, p0, T0) "Specific enthalpy at the start";
  parameter Real d0(unit = "kg/m3") = fluidDensity(a.medium, a.share, p0, h0) "Density at the start";
  Real x(unit = "kg", start = 0, fixed = hold, nominal = 10 * V * d0) "Mass beyond that of the start";
  Real U(unit = "J", start = V * (d0 * h0 - p0), fixed = hold, nominal = 1e5) "Internal energy";
  Real Z[a.traces](each unit = "kg", start = V * d0 * c0, each fixed = hold) "Mass of trace substances";
  Real p(unit = "Pa", displayUnit = "bar", start = p0, nominal = 1e5) "Pressure";
  Real T(unit = "K", displayUnit = "degC", start = T0, nominal = 300) "Temperature";
  Real h(unit = "J/kg", displayUnit = "kJ/kg", start = h0, nominal = 1e5) "Specific enthalpy";
  Real d(unit = "kg/m3", start = d0, nominal = 1000) "Density";
  Real c[a.traces](each unit = "kg/kg") "Trace substances";
  Real Q(unit = "W") "Heat from the wall";
  parameter Real area(unit = "m2") = 3.141592653589793 / 4 * D ^ 2;
equation
  d = d0 + x / V;
  p = fluidPressure(a.medium, a.share, d, U / (V * d));
  h = U / (V * d) + p / d;
  T = fluidTemperature(a.medium, a.share, p, h);
  Z = V * d * c;
  der(x) = a.m + b.m;
  der(U) = a.m * actualStream(a.h) + b.m * actualStream(b.h) + Q;
  for k in 1:a.traces loop
    der(Z[k]) = a.m * actualStream(a.c[k]) + b.m * actualStream(b.c[k]) - a.decay[k] * Z[k] + made[k];
  end for;
  a.m = lossFlow(a.p - p, area, zeta, fluidDensity(a.medium, a.share, a.p, inStream(a.h)), d, 100);
  b.m = lossFlow(b.p - p, area, zeta, fluidDensity(a.medium, a.share, b.p, inStream(b.h)), d, 100);
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
  assert(fluidBeyond(a.medium, a.share, p, h) < 0.5, "The fluid is not described at this pressure and temperature.", AssertionLevel.warning);
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "volume", keywords = "vessel volume mixing header drum plenum", help = "Fluid of one pressure and temperature. Mass and energy are what is kept, so neither is lost; pressure and temperature follow from them. Each port has the loss of a sudden opening.", validity = "Well mixed; the speed of the fluid in it is neglected."));
end Vessel;
