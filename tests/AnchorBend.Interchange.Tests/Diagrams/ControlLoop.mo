model ControlLoop "A control loop with a load step"
  Constant r(k = 1);
  PID pi(k = 1.2, Ti = 0.9);
  Step load(height = -0.5, startTime = 4);
  Sum sum(signs = {1, 1});
  Lag actuator(T = 0.3);
  Lag plant(T = 0.8);
equation
  connect(r.y, pi.r);
  connect(pi.u, sum.u[1]);
  connect(load.y, sum.u[2]);
  connect(sum.y, actuator.u);
  connect(actuator.y, plant.u);
  connect(plant.y, pi.y);
end ControlLoop;
// values: matrix exponential
// 1.0 plant.y 0.7461532429655533
// 4.5 plant.y 0.8810160315826348
// 9.0 plant.y 0.9951775790293826
// 1.0 actuator.y 1.2206168465852179
// 4.5 actuator.y 0.6686910185142663
// 9.0 actuator.y 0.9988656058885964
