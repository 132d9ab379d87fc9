model SineVoltage "Sinusoidal voltage"
  extends BetweenTerminals;
  parameter Real V(unit = "V") = 325 "Amplitude";
  parameter Real fr(unit = "Hz", min = 0) = 50 "Frequency";
  parameter Real phase(unit = "rad", displayUnit = "deg") = 0 "Phase";
  parameter Real offset(unit = "V") = 0 "Added voltage";
equation
  v = offset + V * sin(2 * 3.141592653589793 * fr * time + phase);
  annotation(__AnchorBend(group = "Electrical", symbol = "sinevoltage", keywords = "mains alternating ac sine voltage source", help = "An ideal alternating voltage.", validity = "Ideal: any current."));
end SineVoltage;
