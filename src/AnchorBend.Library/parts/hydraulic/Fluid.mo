model Fluid "Fluid of a hydraulic network"
  type Kind = enumeration(oil32 "Mineral oil, grade 32", oil46 "Mineral oil, grade 46", glycol "Water with 40 % glycol", water "Fresh water", sea "Sea water", own "Own properties");
  HydraulicPort a(rho = density, K = bulk, nu = viscosity, T0 = T, beta = expansion, cp = heat) "Any point of the network" annotation(__AnchorBend(side = "bottom"));
  parameter Kind kind = Kind.oil46 "Fluid";
  parameter Real T(unit = "K", displayUnit = "degC", min = 250, max = 400) = 313.15 "Temperature of the fluid";
  parameter Real rho(unit = "kg/m3", min = 1) = 1000 "Density" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real K(unit = "Pa", displayUnit = "bar", min = 1e5) = 2e9 "Bulk modulus" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real nu(unit = "m2/s", min = 1e-9) = 1e-6 "Kinematic viscosity" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real beta(unit = "1/K", min = 0) = 2e-4 "Thermal expansion" annotation(__AnchorBend(shown = "kind == own"));
  parameter Real cp(unit = "J/(kg.K)", min = 1) = 4000 "Specific heat" annotation(__AnchorBend(shown = "kind == own"));
protected
  parameter Boolean oil = kind == Kind.oil32 or kind == Kind.oil46;
  parameter Real nu40 = if kind == Kind.oil32 then 32 else 46 "mm2/s at 40 °C";
  parameter Real nu100 = if kind == Kind.oil32 then 5.4 else 6.8 "mm2/s at 100 °C";
  parameter Real slope = (log10(log10(nu40 + 0.7)) - log10(log10(nu100 + 0.7))) / (log10(373.15) - log10(313.15));
  parameter Real oilViscosity = 10 ^ (10 ^ (log10(log10(nu40 + 0.7)) - slope * (log10(T) - log10(313.15)))) - 0.7;
  parameter Real density = if oil then 870 * (1 - 7e-4 * (T - 288.15)) elseif kind == Kind.glycol then 1060 elseif kind == Kind.water then 998 elseif kind == Kind.sea then 1025 else rho;
  parameter Real bulk = if oil then 1.4e9 - 4e6 * (T - 313.15) elseif kind == Kind.glycol then 2.6e9 elseif kind == Kind.water then 2.18e9 elseif kind == Kind.sea then 2.34e9 else K;
  parameter Real viscosity = if oil then 1e-6 * oilViscosity elseif kind == Kind.glycol then 2.5e-6 elseif kind == Kind.water then 1e-6 elseif kind == Kind.sea then 1.05e-6 else nu;
  parameter Real expansion = if oil then 7e-4 elseif kind == Kind.glycol then 4.4e-4 elseif kind == Kind.water then 2.1e-4 elseif kind == Kind.sea then 2.5e-4 else beta;
  parameter Real heat = if oil then 1900 elseif kind == Kind.glycol then 3600 elseif kind == Kind.water then 4182 elseif kind == Kind.sea then 3990 else cp;
equation
  a.q = 0;
  Connections.root(a);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "fluid", keywords = "fluid oil water medium viscosity density bulk modulus temperature", width = 64, help = "Connect it to any point of a network: every part of the network takes its density, bulk modulus, viscosity, temperature, thermal expansion and specific heat from here. Without it a network holds mineral oil of grade 46 at 40 °C. The viscosity of oils follows their temperature by Walther's equation (ISO 3448 grades).", validity = "Density and viscosity constant over the network; modulus as far as the gas stays trapped. No cavitation below the vapour pressure."));
end Fluid;
