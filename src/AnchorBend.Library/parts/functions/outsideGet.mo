function outsideGet "An output of a unit that computes outside of the equations"
  input Real unit "Its number";
  input Real place "Which of its outputs, from 0";
  input Real order "What the call before gave back";
  output Real y;
external "builtin";
end outsideGet;
