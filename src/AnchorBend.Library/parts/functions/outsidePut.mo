function outsidePut "Gives an input to a unit that computes outside of the equations"
  input Real unit "Its number";
  input Real place "Which of its inputs, from 0";
  input Real value;
  input Real order "What the call before gave back";
  output Real y "For the next call";
external "builtin";
end outsidePut;
