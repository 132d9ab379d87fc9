function fluidBeyond "0 where a fluid is described, more where it is not"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real p "Pressure in Pa";
  input Real h "Specific enthalpy in J/kg";
  output Real y "0 where a fluid is described, more where it is not";
external "builtin";
end fluidBeyond;
