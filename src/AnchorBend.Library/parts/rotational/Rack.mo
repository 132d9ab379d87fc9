model Rack "Wheel on a rack, drum with a rope"
  RotationalPort a "Shaft of the wheel" annotation(__AnchorBend(side = "left"));
  TranslationalPort b "Rack or rope" annotation(__AnchorBend(side = "right"));
  parameter Real r(unit = "m", min = 1e-6) = 0.1 "Radius";
equation
  b.position = r * a.angle;
  a.torque + r * b.force = 0;
  annotation(__AnchorBend(group = "Rotational", title = "Rack or drum", symbol = "rack", keywords = "rack pinion drum pulley belt wheel rope winch", help = "Turning moves along a line: one radian moves by one radius. No power is lost.", validity = "No slip, thin rope or rack without mass."));
end Rack;
