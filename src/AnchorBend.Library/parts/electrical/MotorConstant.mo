model MotorConstant "Conversion between current and torque"
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "left"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Shaft" annotation(__AnchorBend(side = "right"));
  parameter Real k(unit = "N.m/A") = 0.1 "Torque a current, and voltage a speed";
protected
  Real w(unit = "rad/s") "Speed";
equation
  w = der(b.angle);
  p.v - n.v = k * w;
  p.i + n.i = 0;
  b.torque = -k * p.i;
  annotation(__AnchorBend(group = "Electrical", title = "Motor conversion", symbol = "motor", keywords = "motor generator emf back torque constant machine drive", height = 64, help = "The rotor of a direct-current machine without winding and inertia: torque k i, voltage k ω. Add a resistor, an inductor and an inertia around it.", validity = "Linear machine without saturation, cogging or losses, which other parts add."));
end MotorConstant;
