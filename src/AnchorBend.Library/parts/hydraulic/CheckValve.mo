model CheckValve "Valve that lets fluid pass one way"
  extends BetweenPorts;
  parameter Real crack(unit = "Pa", displayUnit = "bar", min = 0) = 3e4 "Pressure difference where it opens";
  parameter Real width(unit = "Pa", displayUnit = "bar", min = 1) = 5e4 "Further pressure until it is fully open";
  parameter Real area(unit = "m2", displayUnit = "mm2", min = 0) = 2e-5 "Opening when fully open";
  parameter Real leak(unit = "1", min = 0) = 1e-6 "Share that stays open when closed";
  parameter Real cd(unit = "1", min = 0.01, max = 1) = 0.7 "Discharge coefficient";
protected
  Real y(unit = "1") "Lift before its limits";
  Real x(unit = "1") "Lift, 0 to 1";
equation
  y = (dp - crack) / width;
  x = noEvent(if y <= 0 then 0 elseif y >= 1 then 1 else y ^ 2 * (3 - 2 * y));
  q = orificeFlow(dp, area * (x + leak), cd, a.rho, a.nu, 12);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "check", keywords = "check valve non-return one way", help = "Opens smoothly from a to b above its cracking pressure; closed, only a small leakage passes.", validity = "Quasi-static: no mass of the ball, so no chatter of its own."));
end CheckValve;
