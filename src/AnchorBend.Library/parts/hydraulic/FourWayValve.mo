model FourWayValve "Directional valve with four ports and a proportional spool"
  extends Spool;
  HydraulicPort p "Supply" annotation(__AnchorBend(side = "bottom"));
  HydraulicPort t "Return" annotation(__AnchorBend(side = "bottom"));
  HydraulicPort a "First service port" annotation(__AnchorBend(side = "top"));
  HydraulicPort b "Second service port" annotation(__AnchorBend(side = "top"));
protected
  Real pa(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from p to a";
  Real pb(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from p to b";
  Real at(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from a to t";
  Real bt(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow from b to t";
equation
  pa = orificeFlow(p.p - a.p, plus, cd, p.rho, p.nu, 12);
  bt = orificeFlow(b.p - t.p, plus, cd, p.rho, p.nu, 12);
  pb = orificeFlow(p.p - b.p, minus, cd, p.rho, p.nu, 12);
  at = orificeFlow(a.p - t.p, minus, cd, p.rho, p.nu, 12);
  p.q = pa + pb;
  t.q = -at - bt;
  a.q = at - pa;
  b.q = bt - pb;
  Connections.branch(p, t);
  Connections.branch(p, a);
  Connections.branch(p, b);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "fourway", keywords = "directional valve four way 4/3 proportional servo spool", width = 96, height = 64, help = "A positive command opens supply to a and b to return; a negative one the other way round; the middle position is closed but for the leakage. The spool follows the command as a second-order system.", validity = "Sharp edges, symmetric lands; no jet forces on the spool. Pressures above the vapour pressure."));
end FourWayValve;
