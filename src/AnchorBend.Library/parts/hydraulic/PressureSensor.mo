model PressureSensor "Pressure at a point"
  HydraulicPort a "Point" annotation(__AnchorBend(side = "left"));
  output Real y(unit = "Pa", displayUnit = "bar") "Pressure";
equation
  a.q = 0;
  y = a.p;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "gauge", keywords = "pressure sensor gauge transducer measurement", width = 64, help = "Measures absolute pressure without taking flow.", validity = "Ideal: no flow."));
end PressureSensor;
