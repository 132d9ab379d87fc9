block KalmanFilter "Kalman filter of a continuous plant"
  input Real u "Input of the plant";
  input Real y "Measured output of the plant";
  output Real x[size(A, 1)] "Estimated states";
  parameter Real A[:, :] = {{0, 1}, {0, 0}} "System matrix";
  parameter Real B[size(A, 1)] = {0, 1} "Input vector";
  parameter Real C[size(A, 1)] = {1, 0} "Output vector";
  parameter Real Q[size(A, 1), size(A, 1)] = {{0, 0}, {0, 1}} "Intensity of the disturbance of the states";
  parameter Real R(min = 1e-12) = 0.01 "Intensity of the noise of the measurement";
protected
  parameter Integer n = size(A, 1);
  parameter Real P[n, n] = riccati(transpose(A), {{C[i] * C[j] / R for j in 1:n} for i in 1:n}, Q) "Covariance of the settled error";
  parameter Real L[n] = P * C / R "Gain";
  Real z[n](each start = 0) "Estimate";
equation
  der(z) = A * z + B * u + L * (y - C * z);
  x = z;
  annotation(__AnchorBend(group = "Controllers", face = "\\hat x,\\;P", keywords = "kalman bucy filter estimator covariance Riccati optimal observer", width = 96, height = 64, help = "Estimates the states with the least variance in the long run: the gain of the settled filter, from its Riccati equation (Kalman and Bucy, Journal of Basic Engineering 83, 1961). The plant must be such that the measurement sees every unstable state.", validity = "Optimal for a linear plant with white noise of the given covariances; the plant must be observable. The gain is the settled one, from the start on."));
end KalmanFilter;
