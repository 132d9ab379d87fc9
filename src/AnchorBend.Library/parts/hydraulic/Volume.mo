model Volume "Compressible volume with trapped gas"
  HydraulicPort a "First port" annotation(__AnchorBend(side = "left"));
  HydraulicPort b "Second port" annotation(__AnchorBend(side = "right"));
  parameter Real V(unit = "m3", displayUnit = "l", min = 1e-12) = 1e-3 "Volume";
  parameter Real gas(unit = "1", min = 0, max = 0.2) = 0.005 "Share of trapped gas at 1 bar";
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 0) = 1e5 "Start pressure";
  parameter Boolean heatPort = false "Show a heat port: the fluid in the volume has a temperature of its own";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 200) = 313.15 "Start temperature" annotation(__AnchorBend(shown = "heatPort"));
  ThermalPort heat if heatPort "Wall of the volume" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  parameter Boolean hold = true "The start pressure must hold (otherwise it is a guess)";
protected
  Real p(unit = "Pa", displayUnit = "bar", start = p0, fixed = hold, nominal = 1e6) "Pressure";
  Real T(unit = "K", displayUnit = "degC", start = T0, fixed = heatPort, nominal = 300) "Temperature of the fluid";
  Real warming(unit = "m3/s", displayUnit = "l/min", nominal = 1e-6) "Growth of the fluid by its warming";
equation
  if heatPort then
    heat.T = T;
    a.rho * a.cp * V * der(T) = heat.Q + a.rho * a.cp * (noEvent(max(a.q, 0)) + noEvent(max(b.q, 0))) * (a.T0 - T);
    warming = V * a.beta * der(T);
  else
    T = a.T0;
    warming = 0;
  end if;
  a.p = p;
  b.p = p;
  V / effectiveModulus(p, a.K, gas) * der(p) = a.q + b.q + warming;
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "volume", keywords = "volume capacity chamber hose manifold compressibility", help = "Pressure rises by the flow into it. Trapped gas makes it soft at low pressure: the modulus is that of the mixture with polytropic gas (exponent 1.4). With the heat port the fluid warms and cools: it grows by its thermal expansion, which a closed volume turns into pressure, and what flows in comes at the temperature of the network.", validity = "Uniform pressure and temperature; pressures above the vapour pressure. With the heat port, fluid flows in at the temperature of the network; its own warming does not go on to the next volume."));
end Volume;
