model PressureSource "Pressure from a signal"
  input Real u(unit = "Pa", displayUnit = "bar") "Pressure";
  HydraulicPort b "Port" annotation(__AnchorBend(side = "right"));
equation
  b.p = u;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "pressure", keywords = "pressure source supply controlled", width = 64, help = "Keeps the signal's pressure at any flow.", validity = "Ideal: any flow."));
end PressureSource;
