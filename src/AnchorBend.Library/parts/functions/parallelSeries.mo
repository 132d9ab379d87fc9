function parallelSeries "Effectiveness of several alike exchangers whose fluids meet them in the same order (Kays and London)"
  input Real single "Effectiveness of one of them";
  input Real ratio "Least by largest flow of heat capacity";
  input Real number "How many, a whole number";
  output Real y "Effectiveness of all";
protected
  Real left;
  Real power;
algorithm
  left := 1 - (1 + ratio) * single;
  power := 1;
  for i in 1:20 loop
    power := if i <= number then power * left else power;
  end for;
  y := (1 - power) / (1 + ratio);
end parallelSeries;
