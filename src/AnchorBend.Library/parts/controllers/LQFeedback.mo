block LQFeedback "State feedback with the least quadratic cost"
  input Real x[size(A, 1)] "States of the plant";
  input Real r "Set-point" annotation(__AnchorBend(side = "top"));
  output Real u "Controller output";
  parameter Real A[:, :] = {{0, 1}, {0, 0}} "System matrix of the plant";
  parameter Real B[size(A, 1)] = {0, 1} "Input vector of the plant";
  parameter Real Q[size(A, 1), size(A, 1)] = {{1, 0}, {0, 0}} "Weight of the states";
  parameter Real R(min = 1e-12) = 1 "Weight of the output";
  parameter Real N = 1 "Gain of the set-point";
protected
  parameter Integer n = size(A, 1);
  parameter Real X[n, n] = riccati(A, {{B[i] * B[j] / R for j in 1:n} for i in 1:n}, Q);
  parameter Real K[n] = B * X / R "Gain of each state";
equation
  u = N * r - K * x;
  annotation(__AnchorBend(group = "Controllers", title = "LQ feedback", face = "Nr-K_{\\mathrm{LQ}}x", keywords = "lq lqr linear quadratic regulator optimal state feedback Riccati", width = 96, help = "The gains that make the integral of x'Qx + Ru² least for the plant A, B, from its Riccati equation. The plant must be such that the output reaches every unstable state and the weight sees it.", validity = "Optimal for the linear plant of its matrices and without limits of the actuator; the pair of system and input matrix must be stabilisable."));
end LQFeedback;
