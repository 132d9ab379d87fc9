model VanDerPol "The oscillator of van der Pol from blocks"
  Integrator v;
  Integrator x(y0 = 2);
  Power square(n = 2);
  Constant one(k = 1);
  Sum damping(signs = {1, -1});
  Product times;
  Gain mu(k = 3);
  Sum force(signs = {1, -1});
equation
  connect(v.y, x.u);
  connect(x.y, square.u);
  connect(one.y, damping.u[1]);
  connect(square.y, damping.u[2]);
  connect(damping.y, times.u[1]);
  connect(v.y, times.u[2]);
  connect(times.y, mu.u);
  connect(mu.y, force.u[1]);
  connect(x.y, force.u[2]);
  connect(force.y, v.u);
end VanDerPol;
// values: a general numeric library at 3e-14
// 1.0 x.y 1.7883058952176232
// 10.0 x.y 1.7508147160417922
// 30.0 x.y 0.4515653328022872
// 1.0 v.y -0.26137312451072464
// 10.0 v.y -0.2709944394523409
// 30.0 v.y -1.86064023850985
