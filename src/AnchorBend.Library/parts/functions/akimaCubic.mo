function akimaCubic "Cubic interpolation after Akima (Journal of the ACM 17, 1970)"
  input Real x "Abscissa";
  input Real xs[:] "Knots, rising, at least three";
  input Real ys[size(xs, 1)] "Values";
  input Boolean extrapolate = false "Go on straight outside";
  output Real y;
protected
  Integer n = size(xs, 1);
  Real d[size(xs, 1) + 3] "Slopes of the stretches, two more on each side";
  Real m[size(xs, 1)];
  Real w1;
  Real w2;
algorithm
  for i in 1:n - 1 loop
    d[i + 2] := (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i]);
  end for;
  d[2] := 2 * d[3] - d[4];
  d[1] := 2 * d[2] - d[3];
  d[n + 2] := 2 * d[n + 1] - d[n];
  d[n + 3] := 2 * d[n + 2] - d[n + 1];
  for i in 1:n loop
    w1 := abs(d[i + 3] - d[i + 2]);
    w2 := abs(d[i + 1] - d[i]);
    m[i] := if w1 + w2 > 1e-300 then (w1 * d[i + 1] + w2 * d[i + 2]) / (w1 + w2) else 0.5 * (d[i + 1] + d[i + 2]);
  end for;
  y := cubicThrough(x, xs, ys, m, extrapolate);
end akimaCubic;
