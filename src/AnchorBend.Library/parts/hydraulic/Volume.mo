model Volume "Compressible volume with trapped gas"
  HydraulicPort a "First port" annotation(__AnchorBend(side = "left"));
  HydraulicPort b "Second port" annotation(__AnchorBend(side = "right"));
  parameter Real V(unit = "m3", displayUnit = "l", min = 1e-12) = 1e-3 "Volume";
  parameter Real gas(unit = "1", min = 0, max = 0.2) = 0.005 "Share of trapped gas at 1 bar";
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 0) = 1e5 "Start pressure";
  parameter Boolean hold = true "The start pressure must hold (otherwise it is a guess)";
protected
  Real p(unit = "Pa", displayUnit = "bar", start = p0, fixed = hold, nominal = 1e6) "Pressure";
equation
  a.p = p;
  b.p = p;
  V / effectiveModulus(p, a.K, gas) * der(p) = a.q + b.q;
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "volume", keywords = "volume capacity chamber hose manifold compressibility", help = "Pressure rises by the flow into it. Trapped gas makes it soft at low pressure: the modulus is that of the mixture with polytropic gas (exponent 1.4)."));
end Volume;
