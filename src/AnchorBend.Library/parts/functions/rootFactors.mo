function rootFactors "Factors of second order of a polynomial given by its roots"
  input Real roots[:] "Real roots";
  input Real pairs[:, 2] "Real and imaginary part of one of each pair of complex roots";
  input Integer n "Number of rows";
  output Real q[n, 3] "Coefficients of s^2, s and 1; an odd root gives a factor of first order, missing ones give 1";
protected
  Integer row;
  Integer m = size(roots, 1);
algorithm
  for i in 1:n loop
    q[i, 1] := 0;
    q[i, 2] := 0;
    q[i, 3] := 1;
  end for;
  row := 0;
  for i in 1:size(pairs, 1) loop
    row := row + 1;
    q[row, 1] := 1;
    q[row, 2] := -2 * pairs[i, 1];
    q[row, 3] := pairs[i, 1] ^ 2 + pairs[i, 2] ^ 2;
  end for;
  for i in 1:div(m, 2) loop
    row := row + 1;
    q[row, 1] := 1;
    q[row, 2] := -(roots[2 * i - 1] + roots[2 * i]);
    q[row, 3] := roots[2 * i - 1] * roots[2 * i];
  end for;
  if mod(m, 2) == 1 then
    row := row + 1;
    q[row, 1] := 0;
    q[row, 2] := 1;
    q[row, 3] := -roots[m];
  end if;
end rootFactors;
