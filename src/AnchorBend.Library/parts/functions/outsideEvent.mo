function outsideEvent "Has a unit that is integrated here decide at an event"
  input Real unit "Its number";
  input Real point "Its inputs and states";
  output Real y;
external "builtin";
end outsideEvent;
