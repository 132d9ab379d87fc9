model InductionMachine "Induction machine"
  ElectricalPort a "Phase a" annotation(__AnchorBend(side = "left"));
  ElectricalPort b "Phase b" annotation(__AnchorBend(side = "left"));
  ElectricalPort c "Phase c" annotation(__AnchorBend(side = "left"));
  RotationalPort shaft "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Integer pairs(min = 1) = 2 "Pole pairs";
  parameter Real Rs(unit = "Ohm", min = 1e-9) = 0.5 "Resistance of a stator phase";
  parameter Real Rr(unit = "Ohm", min = 1e-9) = 0.4 "Resistance of a rotor phase, as seen from the stator";
  parameter Real Lm(unit = "H", min = 1e-9) = 0.06 "Main inductance";
  parameter Real Ls(unit = "H", min = 1e-12) = 2e-3 "Leakage of the stator";
  parameter Real Lr(unit = "H", min = 1e-12) = 2e-3 "Leakage of the rotor";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the windings" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real w(unit = "rad/s") "Electrical speed of the rotor";
  Real is[2](each unit = "A") "Stator current, α and β";
  Real ir[2](each unit = "A") "Rotor current, α and β";
  Real ps[2](each unit = "Wb", each start = 0, each fixed = true) "Stator flux";
  Real pr[2](each unit = "Wb", each start = 0, each fixed = true) "Rotor flux";
  Real torque(unit = "N.m") "Torque on the rotor";
equation
  w = pairs * der(shaft.angle);
  a.i = is[1];
  b.i = -is[1] / 2 + sqrt(3) / 2 * is[2];
  c.i = -is[1] / 2 - sqrt(3) / 2 * is[2];
  for j in 1:2 loop
    ps[j] = (Ls + Lm) * is[j] + Lm * ir[j];
    pr[j] = (Lr + Lm) * ir[j] + Lm * is[j];
  end for;
  der(ps[1]) = 2 / 3 * (a.v - (b.v + c.v) / 2) - Rs * is[1];
  der(ps[2]) = (b.v - c.v) / sqrt(3) - Rs * is[2];
  der(pr[1]) = -Rr * ir[1] - w * pr[2];
  der(pr[2]) = -Rr * ir[2] + w * pr[1];
  torque = 1.5 * pairs * (ps[1] * is[2] - ps[2] * is[1]);
  shaft.torque = -torque;
  if heatPort then
    heat.Q = -(1.5 * (Rs * (is[1] ^ 2 + is[2] ^ 2) + Rr * (ir[1] ^ 2 + ir[2] ^ 2)));
  end if;
  annotation(__AnchorBend(dataSheet = "induction", group = "Drives", symbol = "machine", keywords = "induction asynchronous machine squirrel cage motor three-phase slip", height = 96, width = 80, help = "Stator in star without a neutral and a short-circuited rotor, by their fluxes in the resting frame (P. C. Krause, Analysis of Electric Machinery, 1986). In steady state it is the well-known equivalent circuit with R_r over the slip.", validity = "Sinusoidal fields, no saturation, no losses in the iron, no displacement of currents in the bars."));
end InductionMachine;
