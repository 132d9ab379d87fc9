model SignalTemperature "Temperature from a signal"
  input Real u(unit = "K", displayUnit = "degC") "Temperature";
  ThermalPort b "Place" annotation(__AnchorBend(side = "right"));
equation
  b.T = u;
  annotation(__AnchorBend(group = "Thermal", symbol = "ambient", keywords = "temperature source day cycle weather profile", width = 64, help = "Keeps the signal's temperature whatever heat flows.", validity = "Any heat flow; temperatures above absolute zero."));
end SignalTemperature;
