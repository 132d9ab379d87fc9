function inverse "Inverse of a matrix by elimination without exchange of rows"
  input Real M[:, size(M, 1)] "Matrix whose leading minors are not zero";
  output Real X[size(M, 1), size(M, 1)];
protected
  Integer n = size(M, 1);
  Real W[size(M, 1), size(M, 1)];
  Real f;
algorithm
  for i in 1:n loop
    for j in 1:n loop
      W[i, j] := M[i, j];
      X[i, j] := if i == j then 1 else 0;
    end for;
  end for;
  for k in 1:n loop
    f := 1 / W[k, k];
    for j in 1:n loop
      W[k, j] := W[k, j] * f;
      X[k, j] := X[k, j] * f;
    end for;
    for i in 1:n loop
      if i <> k then
        f := W[i, k];
        for j in 1:n loop
          W[i, j] := W[i, j] - f * W[k, j];
          X[i, j] := X[i, j] - f * X[k, j];
        end for;
      end if;
    end for;
  end for;
end inverse;
