function outsideStep "Has a unit that computes outside of the equations go on"
  input Real unit "Its number";
  input Real t "Until when";
  input Real order "What the call before gave back";
  output Real y "For the next call";
external "builtin";
end outsideStep;
