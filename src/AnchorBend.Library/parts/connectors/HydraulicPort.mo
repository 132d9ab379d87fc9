connector HydraulicPort "Hydraulic port"
  Real p(unit = "Pa", displayUnit = "bar", start = 1e5, nominal = 1e6) "Pressure";
  flow Real q(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Volume flow into the part";
  parameter Real rho(unit = "kg/m3") = 854.775 "Density of the fluid in this network";
  parameter Real K(unit = "Pa") = 1.4e9 "Bulk modulus of the fluid in this network";
  parameter Real nu(unit = "m2/s") = 46e-6 "Kinematic viscosity of the fluid in this network";
  parameter Real T0(unit = "K") = 313.15 "Temperature of the fluid in this network";
  parameter Real beta(unit = "1/K") = 7e-4 "Thermal expansion of the fluid in this network";
  parameter Real cp(unit = "J/(kg.K)") = 1900 "Specific heat of the fluid in this network";
  annotation(__AnchorBend(domain = "hydraulic", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary hydraulic terminal", help = "A hydraulic port of this level. Where the level is used as a part, it is a port of that name."));
end HydraulicPort;
