function pipeNusselt "Nusselt number of heat transfer to the wall of a pipe"
  input Real reynolds "Reynolds number";
  input Real prandtl "Prandtl number";
  input Real slenderness "Diameter by length";
  output Real y "Nusselt number";
external "builtin";
end pipeNusselt;
