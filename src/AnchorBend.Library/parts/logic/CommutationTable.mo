block CommutationTable "Outputs by the states of sensors"
  parameter Integer n(min = 1, max = 4) = 3 "Number of sensors";
  parameter Integer m(min = 1, max = 8) = 3 "Number of outputs";
  parameter Real table[integer(2 ^ n), m] = {{0, 0, 0}, {1, 0, -1}, {-1, 1, 0}, {0, 1, -1}, {0, -1, 1}, {1, -1, 0}, {-1, 0, 1}, {0, 0, 0}} "Outputs by the number that the sensors make, from 0 on";
  input Boolean u[n] "Sensors, the first counting 1, the second 2, the third 4" annotation(__AnchorBend(vector = true));
  input Boolean reverse = false "Turns all outputs round" annotation(__AnchorBend(optional = "reversible"));
  output Real y[m] "Outputs" annotation(__AnchorBend(vector = true));
  output Integer sector "Number that the sensors make";
  parameter Boolean reversible = false "With an input to reverse";
equation
  sector = sum({if u[i] then integer(2 ^ (i - 1)) else 0 for i in 1:n});
  for j in 1:m loop
    y[j] = (if reverse then -1 else 1) * sum({if sector == i - 1 then table[i, j] else 0 for i in 1:size(table, 1)});
  end for;
  annotation(__AnchorBend(group = "Logic", symbol = "table", keywords = "commutation truth table sensors sector brushless inverter six step", width = 80, height = 64, help = "A truth table: the sensors make a number, and each number has a row of outputs. As it stands it is the six-step commutation of a brushless machine with three sensors 120 degrees apart: 1 is the upper switch of a phase, -1 the lower one, 0 neither; the two codes that cannot be leave all phases free.", validity = "Exact; outputs change at the instants at which sensors do."));
end CommutationTable;
