function crossEffectiveness "Effectiveness of cross flow, both fluids unmixed (Incropera, Fundamentals of Heat and Mass Transfer, 11.32)"
  input Real ntu "Number of transfer units";
  input Real ratio "Least by largest flow of heat capacity";
  output Real y "Effectiveness";
protected
  Real n;
algorithm
  n := max(ntu, 1e-9);
  y := 1 - exp(-n * decayMean(ratio * n ^ 0.78));
end crossEffectiveness;
