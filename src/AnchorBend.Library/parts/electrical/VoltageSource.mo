model VoltageSource "Constant voltage"
  extends BetweenTerminals;
  parameter Real V(unit = "V") = 24 "Voltage";
equation
  v = V;
  annotation(__AnchorBend(example(drive = "electrical", near = "p", far = "n", set(V = "10 V")), group = "Electrical", symbol = "voltage", keywords = "voltage source supply battery constant dc", help = "Keeps its voltage whatever current flows.", validity = "Ideal: any current; two different ones in parallel contradict each other."));
end VoltageSource;
