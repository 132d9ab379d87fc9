function outsideAfter "What came of the last event: a state, or its next time for -1"
  input Real unit "Its number";
  input Real place "Which state, from 0";
  input Real order "What the call before gave back";
  output Real y;
external "builtin";
end outsideAfter;
