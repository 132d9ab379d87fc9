model StepLag "A step through a lag"
  Step step(height = 2, startTime = 0.7);
  Lag lag(k = 1.5, T = 0.4);
equation
  connect(step.y, lag.u);
end StepLag;
// values: closed form
// 0.5 lag.y 0.0
// 1.0 lag.y 1.5829003417769563
// 3.0 lag.y 2.990451657610471
