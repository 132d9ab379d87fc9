model HydraulicMotor "Motor of fixed displacement"
  HydraulicPort a "Inlet" annotation(__AnchorBend(side = "left"));
  HydraulicPort b "Outlet" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Real D(unit = "m3/rad", min = 1e-12) = 1.6e-6 "Displacement";
  parameter Real leak(unit = "m3/(s.Pa)", min = 0) = 1e-13 "Leakage a pressure difference";
  parameter Real drag(unit = "N.m.s/rad", min = 0) = 1e-3 "Viscous friction";
protected
  Real w(unit = "rad/s", displayUnit = "rpm") "Speed";
  Real q(unit = "m3/s", displayUnit = "l/min", nominal = 1e-4) "Flow taken";
equation
  w = der(shaft.angle);
  q = D * w + leak * (a.p - b.p);
  a.q = q;
  b.q = -q;
  shaft.torque = -D * (a.p - b.p) + drag * w;
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Hydraulic", symbol = "hydromotor", keywords = "hydraulic motor displacement drive", height = 64, help = "Turns with the flow it takes, less the leakage.", validity = "Constant displacement; leakage laminar, friction viscous; no ripple of single pistons."));
end HydraulicMotor;
