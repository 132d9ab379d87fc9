model StiffPlant "A fast mode beside a slow one"
  Step step(startTime = 0);
  StateSpace plant(A = [-1, 0.5; 3000, -1e4], b = {1, 200}, c = {1, 0}, x0 = {0, 1});
equation
  connect(step.y, plant.u);
end StiffPlant;
// values: matrix exponential
// 0.01 plant.y 0.010105636309381069
// 1.0 plant.y 0.6803802566248804
// 6.0 plant.y 1.1809906692087164
