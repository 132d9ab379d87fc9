function lossDensity "Density of what passes a narrow place, without a corner where the flow turns"
  input Real da "Density of what comes from the first side";
  input Real db "Density of what comes from the second side";
  input Real x "Pressure difference from the first side, by that below which flow is laminar";
  output Real y "Of the denser side only the change is smooth: so the flow grows with the pressure difference however much they differ";
external "builtin";
end lossDensity;
