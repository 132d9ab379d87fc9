connector ElectricalPort "Electrical terminal"
  Real v(unit = "V") "Potential";
  flow Real i(unit = "A") "Current into the part";
  annotation(__AnchorBend(domain = "electrical", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary electrical terminal", help = "An electrical port of this level. Where the level is used as a part, it is a port of that name."));
end ElectricalPort;
