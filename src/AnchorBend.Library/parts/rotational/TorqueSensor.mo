model TorqueSensor "Torque through a shaft"
  RotationalPort a "Left shaft end" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Right shaft end" annotation(__AnchorBend(side = "right"));
  output Real y(unit = "N.m") "Torque from a to b" annotation(__AnchorBend(side = "bottom"));
equation
  a.angle = b.angle;
  a.torque + b.torque = 0;
  y = a.torque;
  annotation(__AnchorBend(group = "Rotational", symbol = "sensor", keywords = "torque sensor measurement", width = 64, help = "Measures the torque that a passes on to b.", validity = "Ideal: rigid."));
end TorqueSensor;
