model LossyGear "Gear with efficiency and bearing friction"
  RotationalPort a "Driving shaft" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Driven shaft" annotation(__AnchorBend(side = "right"));
  parameter Real ratio(unit = "1") = 10 "Turns of a for one turn of b";
  parameter Real eta(unit = "1", min = 0.01, max = 1) = 0.95 "Efficiency of the mesh";
  parameter Real d(unit = "N.m.s/rad", min = 0) = 0 "Viscous friction at a";
  parameter Real small(unit = "W", min = 1e-9) = 1e-3 "Power at which driving turns into being driven";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real w(unit = "rad/s") "Speed of a";
  Real power(unit = "W") "Power through the mesh, from a to b";
  Real mesh(unit = "N.m") "Torque of the mesh at a";
  Real driving(unit = "1") "1 where a drives, 0 where b drives";
equation
  a.angle = ratio * b.angle;
  w = der(a.angle);
  a.torque = mesh + d * w;
  power = mesh * w;
  driving = 0.5 + 0.5 * tanh(power / small);
  b.torque = -ratio * mesh * (driving * eta + (1 - driving) / eta);
  if heatPort then
    heat.Q = -(a.torque * w + b.torque * w / ratio);
  end if;
  annotation(__AnchorBend(group = "Rotational", symbol = "gear", keywords = "gear gearbox efficiency loss transmission", help = "The side that is driven gets the efficiency's share of the power, whichever side drives; the change between both is smooth over a small power.", validity = "Constant efficiency, the same both ways; loss turns over with the direction of power within a narrow speed."));
end LossyGear;
