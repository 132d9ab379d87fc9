model SampledLoop "A sampled controller and a plant of third order"
  Constant r(k = 1);
  SampledPI pi(k = 0.8, Ti = 1.1, T = 0.1);
  Lag a(T = 0.2);
  Lag b(T = 0.7);
  Lag c(T = 0.3);
equation
  connect(r.y, pi.r);
  connect(pi.u, a.u);
  connect(a.y, b.u);
  connect(b.y, c.u);
  connect(c.y, pi.y);
end SampledLoop;
// values: matrix exponentials between samples
// 0.55 c.y 0.16938098037213314
// 3.05 c.y 0.9370859504247189
// 12.35 c.y 0.9997924066436269
// 0.55 pi.u 1.0412383379533545
// 3.05 pi.u 0.9602703869784058
// 12.35 pi.u 0.9999187817123515
