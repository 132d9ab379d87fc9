function outsideValue "A slope, an output or an indicator of a unit that is integrated here"
  input Real unit "Its number";
  input Real place "Which of them, from 0";
  input Real point "Its inputs and states";
  output Real y;
external "builtin";
end outsideValue;
