model Reservoir "Reservoir at constant pressure"
  HydraulicPort a "Port" annotation(__AnchorBend(side = "top"));
  parameter Real p(unit = "Pa", displayUnit = "bar", min = 0) = 1e5 "Pressure";
equation
  a.p = p;
  annotation(__AnchorBend(example(drive = "hydraulic", near = "a", set(p = "50 bar")), ends = "hydraulic", endsAs = "Connect a reservoir", group = "Hydraulic", symbol = "reservoir", keywords = "reservoir tank sump return", width = 48, height = 32, help = "Takes and gives any flow at its pressure. Several reservoirs may stand in one network.", validity = "Large: level and temperature do not change."));
end Reservoir;
