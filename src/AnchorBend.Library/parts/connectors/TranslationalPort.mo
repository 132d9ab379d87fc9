connector TranslationalPort "Point of a mechanism that moves along a line"
  Real position(unit = "m") "Position";
  flow Real force(unit = "N") "Force into the part";
  annotation(__AnchorBend(domain = "translational", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary translational terminal", help = "A translational port of this level. Where the level is used as a part, it is a port of that name."));
end TranslationalPort;
