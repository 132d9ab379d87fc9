model PhaseCurrentSensor "Currents of three phases as they are measured"
  ElectricalPort a "Phase a, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c, source" annotation(__AnchorBend(side = "left"));
  ElectricalPort a2 "Phase a, load" annotation(__AnchorBend(side = "right"));
  ElectricalPort b2 "Phase b, load" annotation(__AnchorBend(side = "right"));
  ElectricalPort c2 "Phase c, load" annotation(__AnchorBend(side = "right"));
  output Real y[3](each unit = "A") "Measured currents from source to load" annotation(__AnchorBend(vector = true, side = "bottom"));
  parameter Real offset[3](each unit = "A") = {0, 0, 0} "Offsets";
  parameter Real gain[3] = {1, 1, 1} "Gains; 1 is exact";
  parameter Boolean noisy = false "With noise";
  parameter Real sigma(unit = "A", min = 0) = 0.05 "Standard deviation of the noise" annotation(__AnchorBend(shown = "noisy"));
  parameter Real bandwidth(unit = "Hz", displayUnit = "kHz", min = 1e-3) = 5000 "Bandwidth of the noise" annotation(__AnchorBend(shown = "noisy"));
  parameter Integer seed(min = 0) = 1 "Seed; another one gives other noise" annotation(__AnchorBend(shown = "noisy"));
protected
  Noise na(sigma = sigma, bandwidth = bandwidth, seed = 3 * seed) if noisy;
  Noise nb(sigma = sigma, bandwidth = bandwidth, seed = 3 * seed + 1) if noisy;
  Noise nc(sigma = sigma, bandwidth = bandwidth, seed = 3 * seed + 2) if noisy;
  Real noise[3](each unit = "A") "Noise";
equation
  a.v = a2.v;
  b.v = b2.v;
  c.v = c2.v;
  a.i + a2.i = 0;
  b.i + b2.i = 0;
  c.i + c2.i = 0;
  if noisy then
    noise = {na.y, nb.y, nc.y};
  else
    noise = {0, 0, 0};
  end if;
  y[1] = gain[1] * a.i + offset[1] + noise[1];
  y[2] = gain[2] * b.i + offset[2] + noise[2];
  y[3] = gain[3] * c.i + offset[3] + noise[3];
  annotation(__AnchorBend(group = "Drives", symbol = "ammeter", keywords = "current sensor three-phase offset noise gain measurement shunt", height = 96, width = 64, help = "Measures three currents without a voltage drop, each with an offset, a gain and noise of its own. Offsets make torque pulse at the electrical frequency, unequal gains at twice of it.", validity = "No lag and no resolution of its own: put a filter or a sampled hold behind it."));
end PhaseCurrentSensor;
