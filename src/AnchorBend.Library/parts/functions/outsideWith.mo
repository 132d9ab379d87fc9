function outsideWith "The same point with a number put to it"
  input Real place "Which number of the point, from 0";
  input Real value;
  input Real point;
  output Real y;
external "builtin";
end outsideWith;
