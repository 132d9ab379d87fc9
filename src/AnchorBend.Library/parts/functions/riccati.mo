function riccati "Stabilising solution X of A'X + XA − X G X + H = 0 by structure-preserving doubling (Chu, Fan and Lin, Linear Algebra and its Applications 396, 2005)"
  input Real A[:, size(A, 1)];
  input Real G[size(A, 1), size(A, 1)] "Symmetric, not negative";
  input Real H[size(A, 1), size(A, 1)] "Symmetric, not negative";
  input Integer doublings = 14;
  output Real X[size(A, 1), size(A, 1)];
protected
  Integer n = size(A, 1);
  Real shift "More than the largest row sum, so that A − shift·I is dominated by its diagonal";
  Real S[size(A, 1), size(A, 1)];
  Real T[size(A, 1), size(A, 1)];
  Real W[size(A, 1), size(A, 1)];
  Real E[size(A, 1), size(A, 1)];
  Real P[size(A, 1), size(A, 1)];
  Real V[size(A, 1), size(A, 1)];
  Real N[size(A, 1), size(A, 1)];
  Real O[size(A, 1), size(A, 1)];
algorithm
  shift := 1;
  for i in 1:n loop
    shift := max(shift, 1.5 * sum({abs(A[i, j]) for j in 1:n}));
  end for;
  S := inverse(A - shift * identity(n));
  W := inverse(transpose(A - shift * identity(n)) + H * S * G);
  E := identity(n) + 2 * shift * transpose(W);
  P := 2 * shift * S * G * W;
  X := 2 * shift * W * H * S;
  for k in 1:doublings loop
    V := inverse(identity(n) + P * X);
    T := E * V;
    N := P + T * P * transpose(E);
    O := X + transpose(E) * X * V * E;
    E := T * E;
    P := N;
    X := O;
  end for;
end riccati;
