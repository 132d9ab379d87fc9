block StandInTruth "Gives true or false in the place of a part that is left out"
  parameter Boolean value = false "What the output would be";
  output Boolean y "Output";
equation
  y = value;
end StandInTruth;
