block StandInWhole "Gives a whole number in the place of a part that is left out"
  parameter Integer value = 0 "What the output would be";
  output Integer y "Output";
equation
  y = value;
end StandInWhole;
