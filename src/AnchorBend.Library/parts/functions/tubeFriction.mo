function tubeFriction "Friction factor of a tube: laminar to a Reynolds number of 2000, turbulent from 4000 on (Haaland 1983), between both on a curve"
  input Real reynolds "Reynolds number, positive";
  input Real rough "Roughness by diameter";
  output Real y "Friction factor of Darcy";
protected
  Real turbulent;
  Real t;
algorithm
  turbulent := 1 / (1.8 * log10((rough / 3.7) ^ 1.11 + 6.9 / max(reynolds, 2000))) ^ 2;
  t := min(1, max(0, (reynolds - 2000) / 2000));
  y := 64 / reynolds + t * t * (3 - 2 * t) * (turbulent - 64 / reynolds);
end tubeFriction;
