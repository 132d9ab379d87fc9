model VaryingDelay "A delay that varies"
  Sine sine(f = 0.1);
  Sine wave(f = 0.25, amplitude = 0.3, offset = 0.5);
  VaryingDeadTime belt(Tmax = 1);
equation
  connect(sine.y, belt.u);
  connect(wave.y, belt.T);
end VaryingDelay;
// values: closed form
// 2.0 belt.y 0.8090169943749475
// 5.3 belt.y 0.2894139022018582
