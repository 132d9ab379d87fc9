model FlowSensor "Flow through a connection"
  extends BetweenPorts;
  output Real y(unit = "m3/s", displayUnit = "l/min") "Flow from a to b" annotation(__AnchorBend(side = "bottom"));
equation
  dp = 0;
  y = q;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "sensor", keywords = "flow sensor meter measurement", width = 64, help = "Measures without a pressure drop.", validity = "Ideal: no pressure drop."));
end FlowSensor;
