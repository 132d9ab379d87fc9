function fluidVapour "Share of vapour in a fluid"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Share of vapour in a fluid";
external "builtin";
end fluidVapour;
