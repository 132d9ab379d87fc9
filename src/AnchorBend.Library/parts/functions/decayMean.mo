function decayMean "Mean of exp(-t) for t from 0 to x, (1 - exp(-x)) / x"
  input Real x "End";
  output Real y "Mean";
algorithm
  y := if abs(x) < 1e-3 then 1 - x / 2 + x * x / 6 else (1 - exp(-x)) / x;
end decayMean;
