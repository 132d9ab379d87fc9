block StandIn "Gives a number in the place of a part that is left out"
  parameter Real value = 0 "What the output would be";
  output Real y "Output";
equation
  y = value;
end StandIn;
