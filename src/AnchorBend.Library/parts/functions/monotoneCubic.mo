function monotoneCubic "Cubic interpolation without overshoot (Fritsch and Carlson, SIAM J. Numer. Anal. 17, 1980; slopes as weighted harmonic means)"
  input Real x "Abscissa";
  input Real xs[:] "Knots, rising";
  input Real ys[size(xs, 1)] "Values";
  input Boolean extrapolate = false "Go on straight outside";
  output Real y;
protected
  Real h[size(xs, 1) - 1];
  Real d[size(xs, 1) - 1];
  Real m[size(xs, 1)];
  Real s;
algorithm
  for i in 1:size(xs, 1) - 1 loop
    h[i] := xs[i + 1] - xs[i];
    d[i] := (ys[i + 1] - ys[i]) / h[i];
  end for;
  m[1] := d[1];
  m[size(xs, 1)] := d[size(xs, 1) - 1];
  for i in 2:size(xs, 1) - 1 loop
    m[i] := if d[i - 1] * d[i] > 0 then 3 * (h[i - 1] + h[i]) / ((2 * h[i] + h[i - 1]) / d[i - 1] + (h[i] + 2 * h[i - 1]) / d[i]) else 0;
  end for;
  y := cubicThrough(x, xs, ys, m, extrapolate);
end monotoneCubic;
