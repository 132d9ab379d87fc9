connector ThermalPort "Place where heat passes"
  Real T(unit = "K", displayUnit = "degC", start = 293.15, nominal = 300) "Temperature";
  flow Real Q(unit = "W", nominal = 100) "Heat flow into the part";
  annotation(__AnchorBend(domain = "thermal"));
end ThermalPort;
