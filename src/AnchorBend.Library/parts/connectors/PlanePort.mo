connector PlanePort "Frame in a plane"
  Real x(unit = "m") "Place along";
  Real y(unit = "m") "Place upwards";
  Real phi(unit = "rad", displayUnit = "deg") "Angle, from x towards y";
  flow Real fx(unit = "N") "Force along into the part";
  flow Real fy(unit = "N") "Force upwards into the part";
  flow Real t(unit = "N.m") "Torque into the part";
  annotation(__AnchorBend(domain = "plane", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary mechanism plane frame terminal", help = "A frame of a plane mechanism at this level. Where the level is used as a part, it is a port of that name."));
end PlanePort;
