function pipeReynolds "Reynolds number of a flow through a pipe by what drives it"
  input Real drive "2 dp d D^3 / (L mu^2): pressure drop, density, diameter, length, viscosity";
  input Real roughness "Roughness by diameter";
  output Real y "Reynolds number, with the sign of the pressure drop";
external "builtin";
end pipeReynolds;
