model GasNozzle "Nozzle"
  extends BetweenFluidPorts;
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-5) = 0.02 "Diameter of its throat";
  parameter Real cd(unit = "1", min = 0.1, max = 1) = 0.97 "Discharge coefficient";
protected
  parameter Real area(unit = "m2") = 3.141592653589793 / 4 * D ^ 2 "Throat";
  Real hIn(unit = "J/kg", nominal = 1e5) "Specific enthalpy of what flows";
  Real p1(unit = "Pa", displayUnit = "bar", start = 1e5, nominal = 1e5) "Pressure before it";
  Real T1(unit = "K", start = 300, nominal = 500) "Temperature before it";
  Real gas(unit = "J/(kg.K)", start = 287, nominal = 300) "Gas constant";
  Real cp(unit = "J/(kg.K)", start = 1005, nominal = 1e3) "Specific heat at constant pressure";
  Real kappa(unit = "1", start = 1.4) "Ratio of specific heats";
  Real critical(unit = "1", start = 0.53) "Pressure ratio at which it is choked";
  Real r(unit = "1", start = 0.9) "Pressure ratio of the throat";
  Real fall(unit = "Pa", start = 1e4, nominal = 1e4) "Size of the pressure difference, never zero";
  Real driving(unit = "Pa", displayUnit = "bar", nominal = 1e4) "Pressure difference by which a liquid would flow as much";
equation
  p1 = noEvent(max(a.p, b.p));
  hIn = noEvent(if dp > 0 then inStream(a.h) else inStream(b.h));
  T1 = fluidTemperature(a.medium, a.share, p1, hIn);
  gas = p1 / (noEvent(if dp > 0 then da else db) * T1);
  cp = fluidHeatCapacity(a.medium, a.share, p1, hIn);
  kappa = cp / (cp - gas);
  critical = (2 / (kappa + 1)) ^ (kappa / (kappa - 1));
  fall = noEvent(max(abs(dp), 1e-4 * p1));
  r = noEvent(max(critical, 1 - fall / p1));
  driving = dp * p1 / fall * kappa / (kappa - 1) * (r ^ (2 / kappa) - r ^ ((kappa + 1) / kappa));
  m = lossFlow(driving, cd * area, 1, da, db, 100);
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  annotation(__AnchorBend(group = "Burners", symbol = "nozzle", keywords = "nozzle throat choked critical jet gas sonic", formula = "\\dot m = C A \\sqrt{2 \\varrho_1 p_1 \\tfrac{\\kappa}{\\kappa-1} (r^{2/\\kappa} - r^{(\\kappa+1)/\\kappa})}", help = "Isentropic flow of an ideal gas to its throat, choked where the pressure behind is below the critical one (Saint-Venant and Wantzel).", validity = "An ideal gas; what it gives as a jet is not counted."));
end GasNozzle;
