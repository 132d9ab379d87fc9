model AntiWindup "A controller at its limit"
  Constant r(k = 1);
  PID pi(k = 3, Ti = 1, limited = true, uMax = 1.2, uMin = -1.2, Tt = 0.5);
  Lag plant(T = 2);
equation
  connect(r.y, pi.r);
  connect(pi.u, plant.u);
  connect(plant.y, pi.y);
end AntiWindup;
// values: a general numeric library at 3e-14
// 0.5 plant.y 0.26543906031431425
// 2.0 plant.y 0.7585446705942692
// 6.0 plant.y 1.004787823817027
