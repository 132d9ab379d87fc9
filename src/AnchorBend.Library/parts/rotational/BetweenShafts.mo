partial model BetweenShafts "Something between two shaft ends"
  RotationalPort a "Left shaft end" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Right shaft end" annotation(__AnchorBend(side = "right"));
protected
  Real twist(unit = "rad") "Angle of b against a";
  Real tau(unit = "N.m") "Torque that turns the ends together";
equation
  twist = b.angle - a.angle;
  b.torque = tau;
  a.torque = -tau;
end BetweenShafts;
