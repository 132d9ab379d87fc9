model CurrentSensor "Current through a connection"
  extends BetweenTerminals;
  output Real y(unit = "A") "Current from p to n" annotation(__AnchorBend(side = "bottom"));
equation
  v = 0;
  y = i;
  annotation(__AnchorBend(group = "Electrical", symbol = "ammeter", keywords = "current sensor ammeter measurement", width = 64, help = "Measures without a voltage drop.", validity = "Ideal: no voltage drop."));
end CurrentSensor;
