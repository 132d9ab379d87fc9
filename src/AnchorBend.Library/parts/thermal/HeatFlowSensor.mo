model HeatFlowSensor "Heat flow through a connection"
  extends BetweenSurfaces;
  output Real y(unit = "W") "Heat flow from a to b" annotation(__AnchorBend(side = "bottom"));
equation
  a.T = b.T;
  y = Q;
  annotation(__AnchorBend(group = "Thermal", symbol = "sensor", keywords = "heat flow sensor measurement", width = 64, help = "Measures without a difference of temperatures.", validity = "Ideal: no temperature drop."));
end HeatFlowSensor;
