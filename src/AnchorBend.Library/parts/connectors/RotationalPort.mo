connector RotationalPort "End of a shaft"
  Real phi(unit = "rad") "Angle";
  flow Real tau(unit = "N.m") "Torque into the part";
  annotation(__AnchorBend(domain = "rotational"));
end RotationalPort;
