function counterEffectiveness "Effectiveness of counter flow (Kays and London)"
  input Real ntu "Number of transfer units";
  input Real ratio "Least by largest flow of heat capacity";
  output Real y "Effectiveness";
protected
  Real x;
algorithm
  x := ntu * decayMean(ntu * (1 - ratio));
  y := x / (1 + ratio * x);
end counterEffectiveness;
