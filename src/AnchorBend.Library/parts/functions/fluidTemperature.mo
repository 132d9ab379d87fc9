function fluidTemperature "Temperature of a fluid in K"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Temperature of a fluid in K";
external "builtin";
end fluidTemperature;
