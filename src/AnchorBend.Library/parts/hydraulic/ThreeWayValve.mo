model ThreeWayValve "Directional valve with three ports and a proportional spool"
  extends Spool;
  HydraulicPort p "Supply" annotation(__AnchorBend(side = "bottom"));
  HydraulicPort t "Return" annotation(__AnchorBend(side = "bottom"));
  HydraulicPort a "Service port" annotation(__AnchorBend(side = "top"));
protected
  Real pa(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from p to a";
  Real at(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from a to t";
equation
  pa = orificeFlow(p.p - a.p, plus, cd, p.rho, p.nu, 12);
  at = orificeFlow(a.p - t.p, minus, cd, p.rho, p.nu, 12);
  p.q = pa;
  t.q = -at;
  a.q = at - pa;
  Connections.branch(p, t);
  Connections.branch(p, a);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "threeway", keywords = "directional valve three way 3/3 proportional spool", width = 96, height = 64, help = "A positive command opens supply to a, a negative one a to return.", validity = "Sharp edges; no jet forces on the spool. Pressures above the vapour pressure."));
end ThreeWayValve;
