model FlowSource "Flow from a signal"
  input Real u(unit = "m3/s", displayUnit = "l/min") "Flow";
  HydraulicPort b "Port" annotation(__AnchorBend(side = "right"));
equation
  b.q = -u;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "flow", keywords = "flow source ideal pump controlled", width = 64, help = "Delivers the signal's flow at any pressure.", validity = "Ideal: any pressure."));
end FlowSource;
