model RelayLoop "A relay keeps two lags swinging"
  Relay relay(on = 0.3, off = -0.3, yOn = 2, yOff = -2, startsOn = true);
  Lag first(T = 0.5);
  Lag second(T = 1.5);
  Gain minus(k = -1);
equation
  connect(relay.y, first.u);
  connect(first.y, second.u);
  connect(second.y, minus.u);
  connect(minus.y, relay.u);
end RelayLoop;
// values: switching times and matrix exponentials
// 0.9 second.y 0.34767419272332306
// 5.0 second.y 0.010853794020874274
// 20.0 second.y 0.331926600715774
// 0.9 first.y -0.07665775688667353
// 5.0 first.y 1.3605248684584443
// 20.0 first.y -0.41654754573051833
