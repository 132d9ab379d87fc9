model HeatSource "Constant heat flow"
  ThermalPort b "Place that is heated" annotation(__AnchorBend(side = "right"));
  parameter Real Q(unit = "W") = 100 "Heat flow";
equation
  b.Q = -Q;
  annotation(__AnchorBend(group = "Thermal", symbol = "heat", keywords = "heat flow source power loss constant", width = 64, help = "Gives its heat flow whatever the temperature.", validity = "Any temperature."));
end HeatSource;
