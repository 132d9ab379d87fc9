function parallelEffectiveness "Effectiveness of parallel flow (Kays and London)"
  input Real ntu "Number of transfer units";
  input Real ratio "Least by largest flow of heat capacity";
  output Real y "Effectiveness";
algorithm
  y := (1 - exp(-ntu * (1 + ratio))) / (1 + ratio);
end parallelEffectiveness;
