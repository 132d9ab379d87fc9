function fluidViscosity "Dynamic viscosity of a fluid in Pa s"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Dynamic viscosity of a fluid in Pa s";
external "builtin";
end fluidViscosity;
