function fluidTable "Number of the fluid that a table gives"
  input Boolean used "Whether it is";
  input Real p[:] "Pressure in Pa, row by row";
  input Real T[:] "Temperature in K";
  input Real d[:] "Density in kg/m3";
  input Real h[:] "Specific enthalpy in J/kg";
  input Real mu[:] "Viscosity in Pa.s";
  input Real k[:] "Conductivity in W/(m.K)";
  output Real y "Number";
external "builtin";
end fluidTable;
