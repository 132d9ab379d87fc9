model PressureBoundary "Fluid of given pressure and temperature"
  FluidPort a "Port" annotation(__AnchorBend(side = "right"));
  parameter Real p(unit = "Pa", displayUnit = "bar", min = 1) = 1e5 "Pressure";
  parameter Real T(unit = "K", displayUnit = "degC", min = 50) = 293.15 "Temperature of what it gives";
  parameter Boolean pressureSignal = false "The pressure comes from a signal";
  parameter Boolean temperatureSignal = false "The temperature comes from a signal";
  input Real pIn(unit = "Pa", displayUnit = "bar") = p "Pressure" annotation(__AnchorBend(optional = "pressureSignal", side = "left"));
  input Real TIn(unit = "K", displayUnit = "degC") = T "Temperature" annotation(__AnchorBend(optional = "temperatureSignal", side = "left"));
  parameter Real c[a.traces](each unit = "kg/kg") = zeros(a.traces) "Trace substances in what it gives";
equation
  a.p = pIn;
  a.h = fluidEnthalpy(a.medium, a.share, pIn, TIn);
  a.c = c;
  annotation(__AnchorBend(example(drive = "fluid", near = "a", set(p = "3 bar", T = "60 degC")), ends = "fluid", endsAs = "Connect a given pressure", group = "Fluid loops", symbol = "reservoir", keywords = "boundary source sink reservoir mains surroundings pressure temperature", width = 64, help = "Holds its pressure whatever flows; what flows out of it has its temperature.", validity = "Any flow."));
end PressureBoundary;
