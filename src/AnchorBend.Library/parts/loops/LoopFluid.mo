model LoopFluid "Fluid of a loop"
  type Kind = enumeration(water "Water and steam", sea "Sea water", air "Dry air", humid "Humid air", nitrogen "Nitrogen", oxygen "Oxygen", hydrogen "Hydrogen", methane "Methane", dioxide "Carbon dioxide", burnt "Burnt gas of methane and air", glycol "Water with ethylene glycol", oil32 "Mineral oil, grade 32", oil46 "Mineral oil, grade 46", own "From a table");
  FluidPort a(medium = number, share = part, traces = traces, decay = decay, p0 = p0, T0 = T0, m(min = 0)) "Any point of the network" annotation(__AnchorBend(side = "bottom"));
  parameter Kind kind = Kind.water "Fluid";
  parameter Real salinity(unit = "kg/kg", displayUnit = "g/kg", min = 0, max = 0.12) = 0.035 "Salt in a kilogram of sea water" annotation(__AnchorBend(shown = "kind == sea"));
  parameter Real humidity(unit = "kg/kg", displayUnit = "g/kg", min = 0, max = 0.2) = 0.008 "Water vapour with a kilogram of dry air" annotation(__AnchorBend(shown = "kind == humid"));
  parameter Real fuel(unit = "kg/kg", displayUnit = "g/kg", min = 0, max = 0.2) = 0.03 "Methane burnt with a kilogram of air" annotation(__AnchorBend(shown = "kind == burnt"));
  parameter Real glycol(unit = "kg/kg", min = 0, max = 0.6) = 0.4 "Glycol in a kilogram of the mixture" annotation(__AnchorBend(shown = "kind == glycol"));
  parameter Real gas(unit = "1", displayUnit = "%", min = 0, max = 0.5) = 0 "Undissolved gas in the volume, at 1 bar and 20 °C" annotation(__AnchorBend(shown = "kind == oil32 or kind == oil46"));
  parameter Real tableP[:](each unit = "Pa", each displayUnit = "bar") = {1e5, 1e5, 1e5, 2e6, 2e6, 2e6} "Pressure, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real tableT[:](each unit = "K", each displayUnit = "degC") = {263.15, 293.15, 333.15, 263.15, 293.15, 333.15} "Temperature, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real tableD[:](each unit = "kg/m3") = {1285, 1271, 1249, 1286, 1272, 1250} "Density, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real tableH[:](each unit = "J/kg", each displayUnit = "kJ/kg") = {-27300, 55200, 167600, -25900, 56700, 169000} "Specific enthalpy, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real tableMu[:](each unit = "Pa.s") = {9.0e-3, 3.2e-3, 1.5e-3, 9.0e-3, 3.2e-3, 1.5e-3} "Viscosity, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real tableK[:](each unit = "W/(m.K)") = {0.51, 0.53, 0.56, 0.51, 0.53, 0.56} "Conductivity, row by row" annotation(__AnchorBend(shown = "kind == own"));
  parameter Integer traces(min = 0, max = 8) = 0 "Trace substances that are carried along";
  parameter Real decay[traces](each unit = "1/s", each min = 0) = zeros(traces) "Rates at which they decay" annotation(__AnchorBend(shown = "traces > 0"));
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 1) = 1e5 "Start pressure, where a part says no other";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 50) = 293.15 "Start temperature, where a part says no other";
protected
  parameter Real number = if kind == Kind.water then 1 elseif kind == Kind.sea then 2 elseif kind == Kind.air then 3 elseif kind == Kind.humid then 4 elseif kind == Kind.nitrogen then 5 elseif kind == Kind.oxygen then 6 elseif kind == Kind.hydrogen then 7 elseif kind == Kind.methane then 8 elseif kind == Kind.dioxide then 9 elseif kind == Kind.burnt then 10 elseif kind == Kind.glycol then 11 elseif kind == Kind.oil32 then 12 elseif kind == Kind.oil46 then 13 else fluidTable(kind == Kind.own, tableP, tableT, tableD, tableH, tableMu, tableK);
  parameter Real part = if kind == Kind.sea then salinity elseif kind == Kind.humid then humidity elseif kind == Kind.burnt then fuel elseif kind == Kind.glycol then glycol elseif kind == Kind.oil32 or kind == Kind.oil46 then gas else 0;
equation
  a.m = 0;
  a.h = inStream(a.h);
  a.c = inStream(a.c);
  Connections.root(a);
  annotation(__AnchorBend(plot = "tableP, tableT, tableD, tableH, tableMu, tableK", group = "Fluid loops", symbol = "fluid", keywords = "fluid medium water steam sea air gas glycol oil humid burnt loop trace substance", width = 64, help = "Connect it to any point of a network: every part of the network holds this fluid and starts at this pressure and temperature unless it says another. Without it a network holds water. Water and steam follow the IAPWS Industrial Formulation 1997, sea water the equation of state of 1980, gases the NASA polynomials, glycol and oil published equations; any other fluid comes from a table over pressure and temperature, interpolated smoothly.", validity = "Water to 1073 K and 100 MPa but for the neighbourhood of the critical point; gases are ideal; humid air does not condense; a run tells where a fluid is not described any more."));
end LoopFluid;
