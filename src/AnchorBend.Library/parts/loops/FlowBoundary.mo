model FlowBoundary "Flow of given size and temperature"
  FluidPort a "Port" annotation(__AnchorBend(side = "right"));
  parameter Real m(unit = "kg/s") = 0.1 "Flow that it gives";
  parameter Real T(unit = "K", displayUnit = "degC", min = 50) = 293.15 "Temperature of what it gives";
  parameter Boolean flowSignal = false "The flow comes from a signal";
  parameter Boolean temperatureSignal = false "The temperature comes from a signal";
  input Real mIn(unit = "kg/s") = m "Flow" annotation(__AnchorBend(optional = "flowSignal", side = "left"));
  input Real TIn(unit = "K", displayUnit = "degC") = T "Temperature" annotation(__AnchorBend(optional = "temperatureSignal", side = "left"));
  parameter Real c[a.traces](each unit = "kg/kg") = zeros(a.traces) "Trace substances in what it gives";
equation
  a.m = -mIn;
  a.h = fluidEnthalpy(a.medium, a.share, a.p, TIn);
  a.c = c;
  annotation(__AnchorBend(group = "Fluid loops", symbol = "feed", keywords = "boundary source sink feed flow temperature", width = 64, help = "Gives its flow whatever pressure that takes; a negative one it takes. What flows out of it has its temperature.", validity = "Any pressure at which the fluid is described."));
end FlowBoundary;
