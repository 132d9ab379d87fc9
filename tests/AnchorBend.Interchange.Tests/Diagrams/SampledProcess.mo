model SampledProcess "A sampled controller on a plant given by its polynomials"
  Step r(height = 2, startTime = 0.21);
  SampledPID c(T = 0.05, k = 3, Ti = 0.8, Td = 0.1);
  TransferFunction p(b = {1}, a = {0.3, 1, 0.5});
equation
  connect(r.y, c.r);
  connect(c.u, p.u);
  connect(p.y, c.y);
end SampledProcess;
// values: matrix exponentials between samples
// 0.333 p.y 0.06321894702054534
// 1.01 p.y 2.234377373018399
// 4.017 p.y 2.0223522704350083
// 0.333 c.u 6.185728154340053
// 1.01 c.u 1.61915983730196
// 4.017 c.u 0.9694682886690835
