model LoopFitting "Fitting of a loop"
  extends BetweenFluidPorts;
  type Kind = enumeration(bend "Bend of 90 degrees", mitre "Mitred bend of 90 degrees", entry "Sharp entry", exit "Exit into a vessel", orifice "Orifice in a pipe", step "Step of the diameter", own "Own loss factor");
  parameter Kind kind = Kind.bend "Fitting";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-5) = 0.03 "Inner diameter of the pipe";
  parameter Real bend(unit = "1", min = 0.5, max = 20) = 1.5 "Radius of the bend by the diameter" annotation(__AnchorBend(shown = "kind == bend"));
  parameter Real d(unit = "m", displayUnit = "mm", min = 1e-5) = 0.015 "Diameter of the opening, or of the narrow side" annotation(__AnchorBend(shown = "kind == orifice or kind == step"));
  parameter Real own(unit = "1", min = 1e-3) = 1 "Loss factor" annotation(__AnchorBend(shown = "kind == own"));
protected
  constant Real small(unit = "Pa") = 10 "Pressure difference below which the flow is laminar";
  parameter Real area(unit = "m2") = 3.141592653589793 / 4 * D ^ 2 "Cross-section of the pipe";
  parameter Real narrow(unit = "1") = min(0.999, (d / D) ^ 2) "Narrow by wide cross-section";
  parameter Real contracted(unit = "1") = 0.63 + 0.37 * narrow ^ 3 "Jet by opening";
  parameter Real to(unit = "1") = if kind == Kind.bend then 0.21 / sqrt(bend) elseif kind == Kind.mitre then 1.13 elseif kind == Kind.entry then 0.5 elseif kind == Kind.exit then 1 elseif kind == Kind.orifice then (1 / (contracted * narrow) - 1) ^ 2 elseif kind == Kind.step then 0.5 * (1 - narrow) / narrow ^ 2 else own "Loss factor from a to b, by the pipe";
  parameter Real back(unit = "1") = if kind == Kind.entry then 1 elseif kind == Kind.exit then 0.5 elseif kind == Kind.step then (1 / narrow - 1) ^ 2 else to "Loss factor from b to a, by the pipe";
equation
  m = lossFlow(dp, area, back + (to - back) * 0.5 * (1 + dp / sqrt(dp ^ 2 + small ^ 2)), da, db, 10);
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "orifice", keywords = "fitting bend elbow mitre entry exit orifice step contraction expansion loss loop", formula = "\\Delta p = \\zeta \\varrho v^2 / 2", help = "Pressure lost in a bend, an entry or exit, an orifice, or where a pipe becomes narrower in the direction from a to b and wider in the other. Loss factors after Idelchik, Handbook of Hydraulic Resistance; the orifice by Borda and Carnot behind its jet.", validity = "Turbulent flow; the pressure that comes back as a wide flow slows down is counted as lost between ports, as parts do not hold energy of motion."));
end LoopFitting;
