function outsideAt "A point of a unit that is integrated here, with nothing but its time"
  input Real t;
  output Real y;
external "builtin";
end outsideAt;
