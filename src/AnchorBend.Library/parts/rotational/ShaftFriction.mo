model ShaftFriction "Dry friction between two shafts that sticks and slips"
  extends BetweenShafts;
  parameter Real tc(unit = "N.m", min = 1e-9) = 1 "Sliding torque";
  parameter Real ts(unit = "N.m", min = tc) = 1.2 "Breakaway torque";
  parameter Real ws(unit = "rad/s", min = 1e-9) = 0.01 "Speed at which the torque falls from breakaway to sliding";
  parameter Real d(unit = "N.m.s/rad", min = 0) = 0 "Viscous friction";
  parameter Real c(unit = "N.m/rad", min = 1e-3) = 1e4 "Stiffness while sticking";
  parameter Real d0(unit = "N.m.s/rad", min = 0) = 100 "Damping while sticking";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real w(unit = "rad/s") "Speed of sliding";
  Real z(unit = "rad", start = 0, fixed = true, nominal = 1e-4) "Deflection of the contact";
  Real g(unit = "N.m") "Torque at steady sliding";
equation
  w = der(twist);
  g = tc + (ts - tc) * exp(-(w / ws) ^ 2);
  der(z) = w - c * noEvent(abs(w)) / g * z;
  tau = c * z + d0 * exp(-(w / ws) ^ 2) * der(z) + d * w;
  if heatPort then
    heat.Q = -tau * w;
  end if;
  annotation(__AnchorBend(group = "Rotational", title = "Friction (rotational)", symbol = "friction", keywords = "bearing dry friction Coulomb Stribeck stiction stick slip", help = "The contact deflects until it breaks away, then slides (Canudas de Wit, Olsson, Åström and Lischinsky, IEEE Transactions on Automatic Control 40, 1995). Connect one side to a fixed shaft for a bearing.", validity = "Bristle friction: sticking holds but for the bristles’ wind-up and a slow creep near breakaway."));
end ShaftFriction;
