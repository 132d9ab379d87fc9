model ForceSensor "Force through a connection"
  TranslationalPort a "Left end" annotation(__AnchorBend(side = "left"));
  TranslationalPort b "Right end" annotation(__AnchorBend(side = "right"));
  output Real y(unit = "N") "Force, positive in tension" annotation(__AnchorBend(side = "bottom"));
equation
  a.position = b.position;
  a.force + b.force = 0;
  y = -a.force;
  annotation(__AnchorBend(group = "Translational", symbol = "sensor", keywords = "force sensor load cell measurement", width = 64, help = "Measures the force that passes through it; tension is positive.", validity = "Ideal: rigid."));
end ForceSensor;
