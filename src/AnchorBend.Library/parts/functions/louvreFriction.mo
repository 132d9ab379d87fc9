function louvreFriction "Friction factor of Fanning of louvred fins (Chang, Hsu, Lin and Wang 2000)"
  input Real reynolds "Reynolds number by the distance of louvres";
  input Real degrees "Angle of the louvres in degrees";
  input Real gap "Distance of the fins in m";
  input Real louvre "Distance of the louvres in m";
  input Real fin "Height of the fins in m";
  input Real depth "Depth of the fins in m";
  input Real opening "Length of the louvres in m";
  input Real pitch "Distance of the tubes in m";
  input Real flat "Height of a tube in m";
  input Real thick "Thickness of the fins in m";
  input Real wide "Hydraulic diameter between the fins in m";
  output Real y "Friction factor";
protected
  Real slow;
  Real fast;
  Real w;
  Real r;
algorithm
  r := min(150, max(10, reynolds));
  slow := 14.39 * r ^ (-0.805 * gap / fin) * log(1 + gap / louvre) ^ 3.04 * log((thick / gap) ^ 0.48 + 0.9) ^ (-1.435) * (wide / louvre) ^ (-3.01) * log(0.5 * r) ^ (-3.01) * (gap / opening) ^ (-0.308) * (depth / opening) ^ (-0.308) * exp(-0.1167 * pitch / flat) * degrees ^ 0.35;
  r := max(100, reynolds);
  fast := 4.97 * r ^ (0.6049 - 1.064 / degrees ^ 0.2) * log((thick / gap) ^ 0.5 + 0.9) ^ (-0.527) * (wide / louvre * log(0.3 * r)) ^ (-2.966) * (gap / opening) ^ (-0.7931 * pitch / (pitch - flat)) * (pitch / flat) ^ (-0.0446) * log(1.2 + (louvre / gap) ^ 1.4) ^ (-3.553) * degrees ^ (-0.477);
  w := min(1, max(0, (reynolds - 130) / 100));
  y := sqrt((1 - w) * slow * slow + w * fast * fast);
end louvreFriction;
