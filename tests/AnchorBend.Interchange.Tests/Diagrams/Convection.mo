model Convection "Lorenz' equations from blocks"
  Integrator x(k = 10, y0 = 1);
  Integrator y(y0 = 1);
  Integrator z(y0 = 1);
  Sum dx(signs = {1, -1});
  Expression dy(n = 3, y = u[1] * (28 - u[3]) - u[2]);
  Product xy;
  Gain decay(k = 8 / 3);
  Sum dz(signs = {1, -1});
equation
  connect(y.y, dx.u[1]);
  connect(x.y, dx.u[2]);
  connect(dx.y, x.u);
  connect(x.y, dy.u[1]);
  connect(y.y, dy.u[2]);
  connect(z.y, dy.u[3]);
  connect(dy.y, y.u);
  connect(x.y, xy.u[1]);
  connect(y.y, xy.u[2]);
  connect(xy.y, dz.u[1]);
  connect(z.y, decay.u);
  connect(decay.y, dz.u[2]);
  connect(dz.y, z.u);
end Convection;
// values: a general numeric library at 3e-14
// 0.5 x.y 1.1982729680495496
// 0.5 y.y -8.867197729737088
// 0.5 z.y 32.45474021150375
// 2.0 x.y -8.173499932242137
// 2.0 y.y -9.562023686798796
// 2.0 z.y 24.620702049679416
