model SignalHeat "Heat flow from a signal"
  input Real u(unit = "W") "Heat flow";
  ThermalPort b "Place that is heated" annotation(__AnchorBend(side = "right"));
equation
  b.Q = -u;
  annotation(__AnchorBend(group = "Thermal", symbol = "heat", keywords = "heater heat flow source controlled cooler", width = 64, help = "Gives the signal's heat flow; negative values cool.", validity = "Any temperature."));
end SignalHeat;
