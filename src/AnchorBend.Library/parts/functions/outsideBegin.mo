function outsideBegin "A state of a unit that is integrated here, when it has begun"
  input Real unit "Its number";
  input Real place "Which of its states, from 0";
  input Real point "Its parameters";
  output Real y;
external "builtin";
end outsideBegin;
