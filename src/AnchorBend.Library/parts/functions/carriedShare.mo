function carriedShare "How much of what a flow carries is of the first side, 0 to 1, smooth about no flow"
  input Real m "Flow in kg/s";
  output Real y "Share";
external "builtin";
end carriedShare;
