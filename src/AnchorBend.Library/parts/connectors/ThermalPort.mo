connector ThermalPort "Place where heat passes"
  Real T(unit = "K", displayUnit = "degC", start = 293.15, nominal = 300) "Temperature";
  flow Real Q(unit = "W", nominal = 100) "Heat flow into the part";
  annotation(__AnchorBend(domain = "thermal", symbol = "terminal", width = 48, height = 32, keywords = "port level boundary thermal terminal", help = "A thermal port of this level. Where the level is used as a part, it is a port of that name."));
end ThermalPort;
