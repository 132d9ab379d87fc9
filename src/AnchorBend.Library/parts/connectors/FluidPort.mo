connector FluidPort "Port of a fluid loop"
  parameter Integer traces(min = 0) = 0 "How many trace substances are carried along in this network";
  parameter Real medium = 1 "Number of the fluid in this network";
  parameter Real share = 0 "What a mixture holds in this network";
  parameter Real p0(unit = "Pa", displayUnit = "bar") = 1e5 "Start pressure of this network";
  parameter Real T0(unit = "K", displayUnit = "degC") = 293.15 "Start temperature of this network";
  parameter Real decay[traces](each unit = "1/s") = zeros(traces) "Rates at which the trace substances of this network decay";
  Real p(unit = "Pa", displayUnit = "bar", start = p0, nominal = 1e5) "Pressure";
  flow Real m(unit = "kg/s", nominal = 1) "Mass flow into the part";
  stream Real h(unit = "J/kg", displayUnit = "kJ/kg", start = fluidEnthalpy(medium, share, p0, T0), nominal = 1e5) "Specific enthalpy of what leaves the part";
  stream Real c[traces](each unit = "kg/kg", each nominal = 1e-3) "Trace substances in what leaves the part";
  annotation(__AnchorBend(domain = "fluid", assumes = "water", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary fluid loop terminal", help = "A port of a fluid loop of this level. Where the level is used as a part, it is a port of that name."));
end FluidPort;
