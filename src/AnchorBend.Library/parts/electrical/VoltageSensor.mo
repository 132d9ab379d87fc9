model VoltageSensor "Voltage between two points"
  extends BetweenTerminals;
  output Real y(unit = "V") "Voltage from p to n" annotation(__AnchorBend(side = "bottom"));
equation
  i = 0;
  y = v;
  annotation(__AnchorBend(group = "Electrical", symbol = "voltmeter", keywords = "voltage sensor voltmeter measurement", width = 64, help = "Measures without drawing current.", validity = "Ideal: no current."));
end VoltageSensor;
