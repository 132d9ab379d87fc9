function shellEffectiveness "Effectiveness of one shell with two, four … tube passes (Incropera, 11.30a)"
  input Real ntu "Number of transfer units";
  input Real ratio "Least by largest flow of heat capacity";
  output Real y "Effectiveness";
protected
  Real root;
  Real t;
algorithm
  root := sqrt(1 + ratio * ratio);
  t := tanh(0.5 * ntu * root);
  y := 2 * t / ((1 + ratio) * t + root);
end shellEffectiveness;
