model CubicLoop "A loop that is solved at every instant"
  Sine s(amplitude = 1.3, f = 0.4);
  Sum e(signs = {1, -1});
  Power cube(n = 3);
equation
  connect(s.y, e.u[1]);
  connect(cube.y, e.u[2]);
  connect(e.y, cube.u);
end CubicLoop;
// values: the root by bracketing
// 0.3 e.y 0.6344853805815066
// 2.2 e.y -0.6344853805815064
