function fluidPressure "Pressure of a fluid in Pa"
  input Real medium "Number of the fluid";
  input Real share "What a mixture holds in kg/kg";
  input Real d "Density in kg/m3";
  input Real u "Specific internal energy in J/kg";
  output Real y "Pressure in Pa";
external "builtin";
end fluidPressure;
