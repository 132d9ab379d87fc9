block KalmanFilter "Kalman filter of a continuous plant"
  input Real u "Input of the plant";
  input Real y "Measured output of the plant";
  output Real x[size(A, 1)] "Estimated states";
  parameter Real A[:, :] = {{0, 1}, {0, 0}} "System matrix";
  parameter Real B[size(A, 1)] = {0, 1} "Input vector";
  parameter Real C[size(A, 1)] = {1, 0} "Output vector";
  parameter Real Q[size(A, 1), size(A, 1)] = {{0, 0}, {0, 1}} "Intensity of the disturbance of the states";
  parameter Real R(min = 1e-12) = 0.01 "Intensity of the noise of the measurement";
  parameter Real P0 = 1 "Variance of the start values";
protected
  parameter Integer n = size(A, 1);
  Real z[n](each start = 0) "Estimate";
  Real P[n, n](start = P0 * identity(n)) "Covariance of the error";
  Real L[n] "Gain";
equation
  L = P * C / R;
  der(P) = A * P + P * transpose(A) + Q - {{L[i] * L[j] * R for j in 1:n} for i in 1:n};
  der(z) = A * z + B * u + L * (y - C * z);
  x = z;
  annotation(__AnchorBend(group = "Controllers", face = "\\hat x,\\;P", keywords = "kalman bucy filter estimator covariance Riccati optimal observer", width = 96, height = 64, help = "Estimates the states with the least variance; the covariance follows its Riccati equation and settles (Kalman and Bucy, Journal of Basic Engineering 83, 1961). With a steady start it begins with the settled gain."));
end KalmanFilter;
