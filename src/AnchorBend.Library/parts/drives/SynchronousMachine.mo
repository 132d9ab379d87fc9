model SynchronousMachine "Synchronous machine with permanent magnets"
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Integer pairs(min = 1) = 4 "Pole pairs";
  parameter Real R(unit = "Ohm", min = 1e-9) = 0.2 "Resistance of a phase";
  parameter Real Ld(unit = "H", min = 1e-12) = 1e-3 "Inductance along the magnets";
  parameter Real Lq(unit = "H", min = 1e-12) = 1e-3 "Inductance across the magnets";
  parameter Real flux(unit = "Wb") = 0.05 "Flux of the magnets in a phase";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the windings" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
  output Real angle(unit = "rad") "Electrical angle of the magnets against phase a" annotation(__AnchorBend(side = "right"));
protected
  constant Real third = 2.0943951023931953 "Third of a turn, rad";
  Real w(unit = "rad/s") "Electrical speed";
  Real id(unit = "A", start = 0, fixed = true) "Current along the magnets";
  Real iq(unit = "A", start = 0, fixed = true) "Current across the magnets";
  Real vd(unit = "V") "Voltage along the magnets";
  Real vq(unit = "V") "Voltage across the magnets";
  Real torque(unit = "N.m") "Torque on the rotor";
equation
  angle = pairs * shaft.angle;
  w = der(angle);
  vd = 2 / 3 * (a.v * cos(angle) + b.v * cos(angle - third) + c.v * cos(angle + third));
  vq = -2 / 3 * (a.v * sin(angle) + b.v * sin(angle - third) + c.v * sin(angle + third));
  Ld * der(id) = vd - R * id + w * Lq * iq;
  Lq * der(iq) = vq - R * iq - w * (Ld * id + flux);
  a.i = id * cos(angle) - iq * sin(angle);
  b.i = id * cos(angle - third) - iq * sin(angle - third);
  c.i = id * cos(angle + third) - iq * sin(angle + third);
  torque = 1.5 * pairs * (flux * iq + (Ld - Lq) * id * iq);
  shaft.torque = -torque;
  if heatPort then
    heat.Q = -1.5 * R * (id ^ 2 + iq ^ 2);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "machine", keywords = "synchronous machine permanent magnet PMSM motor generator salient dq three-phase", height = 96, width = 80, help = "The windings in star without a neutral, as seen from the turning magnets: torque 3/2 p (ψ i_q + (L_d − L_q) i_d i_q), voltages R i + dψ/dt in the frame that turns with them (R. H. Park, 1929). Where both inductances differ, the reluctance counts. Add an inertia at the shaft.", validity = "Sinusoidal fields, no saturation, no losses in the iron, no cogging; the currents of the three phases add up to nothing."));
end SynchronousMachine;
