model VariableOrifice "Orifice opened by a signal"
  extends BetweenPorts;
  input Real u(unit = "1") "Opening, 0 closed to 1 open" annotation(__AnchorBend(side = "top"));
  parameter Real area(unit = "m2", displayUnit = "mm2", min = 0) = 1e-5 "Opening when fully open";
  parameter Real leak(unit = "1", min = 0, max = 1) = 1e-5 "Share that stays open when closed";
  parameter Real cd(unit = "1", min = 0.01, max = 1) = 0.7 "Discharge coefficient";
  parameter Real critical(unit = "1", min = 1) = 12 "Reynolds number where it becomes turbulent";
equation
  q = orificeFlow(dp, area * noEvent(max(leak, min(1, u))), cd, a.rho, a.nu, critical);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "throttle", keywords = "throttle valve proportional variable restriction", help = "An orifice whose opening follows the signal between closed and open.", validity = "Sharp edge, opening from zero to one; no choking by cavitation."));
end VariableOrifice;
