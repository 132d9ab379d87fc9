model FastDelay "A fast wave through a long pipe"
  Sine wave(f = 2, amplitude = 3);
  DeadTime pipe(T = 4);
  Lag lag(T = 100);
equation
  connect(wave.y, pipe.u);
  connect(pipe.y, lag.u);
end FastDelay;
// values: closed form
// 3.9 pipe.y 0.0
// 6.1 pipe.y 2.8531695488854605
// 17.2 pipe.y 1.7633557568774192
