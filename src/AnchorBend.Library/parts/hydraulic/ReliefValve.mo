model ReliefValve "Valve that opens above a set pressure"
  extends BetweenPorts;
  parameter Real pSet(unit = "Pa", displayUnit = "bar", min = 0) = 1e7 "Pressure difference where it opens";
  parameter Real width(unit = "Pa", displayUnit = "bar", min = 1) = 5e5 "Further pressure until it is fully open";
  parameter Real area(unit = "m2", displayUnit = "mm2", min = 0) = 2e-5 "Opening when fully open";
  parameter Real T(unit = "s", min = 1e-6) = 5e-3 "Time constant of the poppet";
  parameter Real cd(unit = "1", min = 0.01, max = 1) = 0.7 "Discharge coefficient";
protected
  Real x(unit = "1", start = 0, fixed = true) "Lift, 0 to 1";
equation
  T * der(x) = noEvent(max(0, min(1, (dp - pSet) / width))) - x;
  q = orificeFlow(dp, area * (x + 1e-6), cd, a.rho, a.nu, 12);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "relief", keywords = "pressure relief valve limit safety", help = "Opens in proportion to the pressure above the set value, with the poppet's time constant.", validity = "Quasi-static with a lag: no mass of the poppet, so no chatter of its own."));
end ReliefValve;
