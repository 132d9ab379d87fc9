model Pump "Pump of fixed displacement"
  HydraulicPort a "Suction" annotation(__AnchorBend(side = "bottom"));
  HydraulicPort b "Pressure side" annotation(__AnchorBend(side = "top"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "left"));
  parameter Real D(unit = "m3/rad", min = 1e-12) = 1.6e-6 "Displacement";
  parameter Real leak(unit = "m3/(s.Pa)", min = 0) = 1e-13 "Leakage a pressure difference";
  parameter Real drag(unit = "N.m.s/rad", min = 0) = 1e-3 "Viscous friction";
protected
  Real w(unit = "rad/s", displayUnit = "rpm") "Speed";
  Real q(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow delivered";
equation
  w = der(shaft.angle);
  q = D * w - leak * (b.p - a.p);
  b.q = -q;
  a.q = q;
  shaft.torque = D * (b.p - a.p) + drag * w;
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "pump", keywords = "pump gear vane displacement supply", width = 64, height = 64, help = "Delivers its displacement at each radian, less the leakage; the shaft feels the pressure and the friction.", validity = "Constant displacement; leakage laminar; no ripple of single pistons, no cavitation at the inlet."));
end Pump;
