function fluidConductivity "Thermal conductivity of a fluid in W/(m K)"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "Thermal conductivity of a fluid in W/(m K)";
external "builtin";
end fluidConductivity;
