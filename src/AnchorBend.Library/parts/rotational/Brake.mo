model Brake "Friction brake against the frame, pressed by a signal"
  RotationalPort a "Shaft" annotation(__AnchorBend(side = "left"));
  input Real u(unit = "1", min = 0) "Engagement, 0 free to 1 fully pressed" annotation(__AnchorBend(side = "top"));
  parameter Real t(unit = "N.m", min = 1e-6) = 100 "Torque when fully pressed";
  parameter Real c(unit = "N.m/rad", min = 1e-3) = 1e5 "Stiffness while sticking, fully pressed";
  parameter Real d0(unit = "N.m.s/rad", min = 0) = 100 "Damping while sticking";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  constant Real ws(unit = "rad/s") = 0.1 "Speed above which the linings slide without that damping";
  Real w(unit = "rad/s") "Speed";
  Real z(unit = "rad", start = 0, fixed = true, nominal = 1e-4) "Deflection of the linings";
  Real pressed(unit = "1") "Engagement within its limits";
equation
  w = der(a.angle);
  pressed = noEvent(max(0, min(1, u)));
  der(z) = w - c * noEvent(abs(w)) / t * z;
  a.torque = pressed * (c * z + d0 * exp(-(w / ws) ^ 2) * der(z));
  if heatPort then
    heat.Q = -a.torque * w;
  end if;
  annotation(__AnchorBend(group = "Rotational", symbol = "brake", keywords = "brake friction stop hold parking", width = 64, help = "Holds up to the engagement's share of the full torque; beyond that it slips.", validity = "Bristle friction: a held shaft gives by the bristles’ wind-up and creeps a little near breakaway."));
end Brake;
