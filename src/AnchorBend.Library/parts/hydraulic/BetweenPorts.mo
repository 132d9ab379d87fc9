partial model BetweenPorts "Something that fluid flows through"
  HydraulicPort a "First port" annotation(__AnchorBend(side = "left"));
  HydraulicPort b "Second port" annotation(__AnchorBend(side = "right"));
protected
  Real dp(unit = "Pa", displayUnit = "bar", nominal = 1e6) "Pressure from a to b";
  Real q(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from a to b";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  Connections.branch(a, b);
end BetweenPorts;
