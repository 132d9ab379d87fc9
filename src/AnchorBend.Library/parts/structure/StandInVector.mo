block StandInVector "Gives a vector in the place of a part that is left out"
  parameter Real value[:] = {0} "What the output would be";
  output Real y[size(value, 1)] "Output";
equation
  y = value;
end StandInVector;
