function plateFriction "Friction factor between corrugated plates (Martin 1996)"
  input Real reynolds "Reynolds number by twice the depth over the enlargement, positive";
  input Real angle "Angle of the corrugation to the flow in rad";
  output Real y "Friction factor of Darcy";
protected
  Real fast;
  Real t;
  Real along;
  Real across;
algorithm
  fast := max(reynolds, 1000);
  t := min(1, max(0, (reynolds - 1500) / 1000));
  t := t * t * (3 - 2 * t);
  along := 64 / reynolds + t * (1 / (1.8 * log10(fast) - 1.5) ^ 2 - 64 / reynolds);
  across := 597 / reynolds + 3.85 + t * (39 / fast ^ 0.289 - 597 / reynolds - 3.85);
  y := 1 / (cos(angle) / sqrt(0.18 * tan(angle) + 0.36 * sin(angle) + along / cos(angle)) + (1 - cos(angle)) / sqrt(3.8 * across)) ^ 2;
end plateFriction;
