model Orifice "Fixed orifice"
  extends BetweenPorts;
  parameter Real area(unit = "m2", displayUnit = "mm2", min = 0) = 5e-6 "Opening";
  parameter Real cd(unit = "1", min = 0.01, max = 1) = 0.7 "Discharge coefficient";
  parameter Real critical(unit = "1", min = 1) = 12 "Reynolds number where it becomes turbulent";
equation
  q = orificeFlow(dp, area, cd, a.rho, a.nu, critical);
  annotation(__AnchorBend(example(load = "hydraulic", near = "a", far = "b"), group = "Hydraulic", symbol = "orifice", keywords = "orifice throttle restriction nozzle", formula = "q = c_d A \\sqrt{\\tfrac{2}{\\rho}} \\frac{\\Delta p}{(\\Delta p^2 + \\Delta p_c^2)^{1/4}}", help = "Square-root law at large, proportional law at small pressure differences, with a smooth change at the critical Reynolds number, so that flow may reverse without trouble.", validity = "Sharp edge, density constant; no choking by cavitation."));
end Orifice;
