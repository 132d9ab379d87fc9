function bracketShare "Where a value lies between the knots around it: index and share, straight on outside where wanted"
  input Real x;
  input Real xs[:];
  input Boolean extrapolate;
  output Real share[size(xs, 1)] "Weight of each knot";
protected
  Integer n = size(xs, 1);
  Real s;
algorithm
  for i in 1:n loop
    share[i] := 0;
  end for;
  for i in 1:n - 1 loop
    s := (x - xs[i]) / (xs[i + 1] - xs[i]);
    if not extrapolate then
      s := max(0, min(1, s));
    end if;
    if (i == 1 or x >= xs[i]) and (i == n - 1 or x < xs[i + 1]) then
      share[i] := 1 - s;
      share[i + 1] := s;
    end if;
  end for;
end bracketShare;
