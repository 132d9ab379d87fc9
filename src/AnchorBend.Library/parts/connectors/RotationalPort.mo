connector RotationalPort "End of a shaft"
  Real angle(unit = "rad") "Angle";
  flow Real torque(unit = "N.m") "Torque into the part";
  annotation(__AnchorBend(domain = "rotational", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary rotational terminal", help = "A rotational port of this level. Where the level is used as a part, it is a port of that name."));
end RotationalPort;
