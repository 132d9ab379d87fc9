function cubicThrough "Cubic pieces with given slopes at the knots"
  input Real x;
  input Real xs[:];
  input Real ys[size(xs, 1)];
  input Real m[size(xs, 1)];
  input Boolean extrapolate = false;
  output Real y;
protected
  Integer n = size(xs, 1);
  Real h;
  Real s;
algorithm
  y := if extrapolate then ys[1] + m[1] * (x - xs[1]) else ys[1];
  for i in 1:n - 1 loop
    if x >= xs[i] then
      h := xs[i + 1] - xs[i];
      s := (x - xs[i]) / h;
      y := (1 + 2 * s) * (1 - s) ^ 2 * ys[i] + s * (1 - s) ^ 2 * h * m[i] + s ^ 2 * (3 - 2 * s) * ys[i + 1] + s ^ 2 * (s - 1) * h * m[i + 1];
    end if;
  end for;
  if x >= xs[n] then
    y := if extrapolate then ys[n] + m[n] * (x - xs[n]) else ys[n];
  end if;
end cubicThrough;
