model SignalVoltage "Voltage from a signal"
  extends BetweenTerminals;
  input Real u(unit = "V") "Voltage" annotation(__AnchorBend(side = "top"));
equation
  v = u;
  annotation(__AnchorBend(group = "Electrical", symbol = "voltage", keywords = "controlled voltage source amplifier inverter", help = "Keeps the signal's voltage whatever current flows.", validity = "Ideal: any current."));
end SignalVoltage;
