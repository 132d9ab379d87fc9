function fluidEnthalpy "Specific enthalpy of a fluid in J/kg"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real T "Temperature in K";
  output Real y "Specific enthalpy of a fluid in J/kg";
external "builtin";
end fluidEnthalpy;
