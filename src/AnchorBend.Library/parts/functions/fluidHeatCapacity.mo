function fluidHeatCapacity "Heat capacity of a fluid at constant pressure in J/(kg K)"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Heat capacity of a fluid at constant pressure in J/(kg K)";
external "builtin";
end fluidHeatCapacity;
