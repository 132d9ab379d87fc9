model DeadTimeLoop "A loop with dead time"
  Constant r(k = 1);
  Sum e(signs = {1, -1});
  Gain k(k = 1.5);
  Lag plant(T = 1);
  DeadTime pipe(T = 0.6);
equation
  connect(r.y, e.u[1]);
  connect(pipe.y, e.u[2]);
  connect(e.y, k.u);
  connect(k.y, plant.u);
  connect(plant.y, pipe.u);
end DeadTimeLoop;
// values: the method of steps in a general numeric library
// 0.5 plant.y 0.5902040104310499
// 1.5 plant.y 0.6655383446613435
// 7.0 plant.y 0.5992681582746278
