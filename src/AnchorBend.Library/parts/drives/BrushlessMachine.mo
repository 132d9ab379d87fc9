model BrushlessMachine "Brushless machine with trapezoidal voltage"
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Integer pairs(min = 1) = 4 "Pole pairs";
  parameter Real R(unit = "Ohm", min = 1e-9) = 0.3 "Resistance of a phase";
  parameter Real L(unit = "H", min = 1e-12) = 5e-4 "Inductance of a phase, less that between phases";
  parameter Real k(unit = "V.s/rad") = 0.05 "Voltage of a phase at its flat top, for the speed of the shaft";
  parameter Real cogging(unit = "N.m", min = 0) = 0 "Amplitude of the cogging torque";
  parameter Integer slots(min = 1) = 24 "Cogging periods in a turn" annotation(__AnchorBend(shown = "cogging > 0"));
  parameter Real dry(unit = "N.m", min = 0) = 0 "Dry friction";
  parameter Real viscous(unit = "N.m.s/rad", min = 0) = 0 "Viscous friction";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the windings and of friction" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  output Real angle(unit = "rad") "Electrical angle of the rotor against phase a" annotation(__AnchorBend(side = "right"));
protected
  parameter Real wSmall(unit = "rad/s") = 0.1 "Speed from which on dry friction is whole";
  constant Real pi = 3.141592653589793;
  Real w(unit = "rad/s") "Speed of the shaft";
  Real ia(unit = "A", start = 0, fixed = true) "Current of phase a";
  Real ib(unit = "A", start = 0, fixed = true) "Current of phase b";
  Real s[3] "Shapes of the voltages, -1 to 1";
  Real e[3](each unit = "V") "Induced voltages";
  Real torque(unit = "N.m") "Torque on the rotor";
  Real friction(unit = "N.m") "Torque of friction";
equation
  angle = pairs * shaft.angle;
  w = der(shaft.angle);
  // Flat for a third of a turn each way, straight between: a sum of clipped waves would bend, so it is read from a table that repeats.
  for j in 1:3 loop
    s[j] = interpolate(angle / (2 * pi) - (j - 1) / 3, {0, 1 / 12, 5 / 12, 7 / 12, 11 / 12, 1}, {0, 1, 1, -1, -1, 0}, "repeat");
    e[j] = k * w * s[j];
  end for;
  a.i = ia;
  b.i = ib;
  a.i + b.i + c.i = 0;
  // Between phases, so that the star point need not be known.
  a.v - b.v = R * (ia - ib) + L * (der(ia) - der(ib)) + e[1] - e[2];
  b.v - c.v = R * (ia + 2 * ib) + L * (der(ia) + 2 * der(ib)) + e[2] - e[3];
  torque = k * (s[1] * ia + s[2] * ib + s[3] * c.i);
  friction = dry * tanh(w / wSmall) + viscous * w;
  shaft.torque = friction + cogging * sin(slots * shaft.angle) - torque;
  if heatPort then
    heat.Q = -R * (ia ^ 2 + ib ^ 2 + c.i ^ 2) - friction * w;
  end if;
  annotation(__AnchorBend(dataSheet = "brushless", group = "Drives", symbol = "machine", keywords = "brushless DC BLDC trapezoidal back EMF motor six-step commutation", height = 96, width = 80, help = "Three phases in star with induced voltages that are flat for a third of a turn each way (P. Pillay, R. Krishnan, Modeling, simulation, and analysis of permanent-magnet motor drives, part II, 1989). A phase left free by its switches carries no current once that has ended. Torque is the sum of shape times current: electrical power e i is mechanical power at every instant.", validity = "No saturation, no losses in the iron; dry friction is smoothed below 0.1 rad/s; inductances that do not change with the angle."));
end BrushlessMachine;
