function counterSeries "Effectiveness of several alike exchangers whose fluids meet them in opposite order (Kays and London)"
  input Real single "Effectiveness of one of them";
  input Real ratio "Least by largest flow of heat capacity";
  input Real number "How many";
  output Real y "Effectiveness of all";
protected
  Real x;
  Real z;
algorithm
  x := single / max(1 - single, 1e-12);
  z := x * (1 - ratio);
  y := counterEffectiveness(number * x * (if abs(z) < 1e-4 then 1 - z / 2 + z * z / 3 else log(1 + z) / z), ratio);
end counterSeries;
