model SampledMany "Two sampled outputs fed back through a matrix to a coupled plant"
  StateSpaceMIMO p(A = {{0, 1, 0, 0}, {-4, -0.4, 1, 0}, {0, 0, 0, 1}, {1, 0, -9, -0.3}}, B = {{0, 0}, {1, 0}, {0, 0}, {0, 2}}, C = {{1, 0, 0, 0}, {0, 0, 1, 0}}, x0 = {0.1, 0, -0.2, 0});
  Unstack parts(n = 2);
  SampleHold h1(T = 0.1);
  SampleHold h2(T = 0.1);
  Stack held(n = 2);
  MatrixGain k(K = {{-1.5, 0.3}, {0.2, -2}});
  ConstantVector bias(k = {0.5, 0});
  VectorSum u(n = 2);
equation
  connect(p.y, parts.u);
  connect(parts.y[1], h1.u);
  connect(parts.y[2], h2.u);
  connect(h1.y, held.u[1]);
  connect(h2.y, held.u[2]);
  connect(held.y, k.u);
  connect(k.y, u.a);
  connect(bias.y, u.b);
  connect(u.y, p.u);
end SampledMany;
// values: matrix exponentials between samples
// 0.77 p.y[1] 0.06753041479986871
// 0.77 p.y[2] 0.19536033050411225
// 3.03 p.y[1] 0.0813513099315429
// 3.03 p.y[2] 0.012390079196338766
// 9.99 p.y[1] 0.09952050873092139
// 9.99 p.y[2] 0.0015923255886097871
