function fluidDensity "Density of a fluid in kg/m3"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Density of a fluid in kg/m3";
external "builtin";
end fluidDensity;
