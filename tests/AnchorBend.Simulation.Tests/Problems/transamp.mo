model transamp "Transistor amplifier: eight nodes, capacitors between them, a mass matrix of rank five"
  constant Real pi = 3.14159265358979323846;
  parameter Real Ub = 6, a = 0.99, b = 1e-6, Uf = 0.026, R0 = 1000, R = 9000;
  parameter Real C[5] = {k * 1e-6 for k in 1:5};
  function g input Real x; input Real b; input Real Uf; output Real y; algorithm y := b * (exp(x / Uf) - 1); end g;
  Real y[8](start = {0, 3, 3, 6, 3, 3, 6, 0});
  Real Ue = 0.1 * sin(200 * pi * time);
  Real g1 = g(y[2] - y[3], b, Uf), g2 = g(y[5] - y[6], b, Uf);
equation
  -C[1] * der(y[1]) + C[1] * der(y[2]) = -Ue / R0 + y[1] / R0;
  C[1] * der(y[1]) - C[1] * der(y[2]) = -Ub / R + y[2] * (2 / R) - (a - 1) * g1;
  -C[2] * der(y[3]) = -g1 + y[3] / R;
  -C[3] * der(y[4]) + C[3] * der(y[5]) = -Ub / R + y[4] / R + a * g1;
  C[3] * der(y[4]) - C[3] * der(y[5]) = -Ub / R + y[5] * (2 / R) - (a - 1) * g2;
  -C[4] * der(y[6]) = -g2 + y[6] / R;
  -C[5] * der(y[7]) + C[5] * der(y[8]) = -Ub / R + y[7] / R + a * g2;
  C[5] * der(y[7]) - C[5] * der(y[8]) = y[8] / R;
end transamp;
// scale 1.0
// 0.2: -0.5562145012262709e-2 0.3006522471903042e1 0.2849958788608128e1 0.2926422536206241e1 0.2704617865010554e1 0.2761837778393145e1 0.4770927631616772e1 0.1236995868091548e1
