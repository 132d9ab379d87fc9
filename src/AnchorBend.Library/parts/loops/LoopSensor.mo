model LoopSensor "Sensor in a loop"
  FluidPort a "First port" annotation(__AnchorBend(side = "left"));
  FluidPort b "Second port" annotation(__AnchorBend(side = "right"));
  type Kind = enumeration(temperature "Temperature", pressure "Pressure", mass "Mass flow", volume "Volume flow", enthalpy "Flow of enthalpy", vapour "Share of vapour");
  parameter Kind kind = Kind.temperature "What it measures";
  output Real y "What is measured, in SI units" annotation(__AnchorBend(side = "top"));
protected
  Real h(unit = "J/kg", nominal = 1e5) "Specific enthalpy of what flows";
equation
  a.p = b.p;
  a.m + b.m = 0;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  a.c = inStream(b.c);
  b.c = inStream(a.c);
  h = actualStream(a.h);
  y = if kind == Kind.temperature then fluidTemperature(a.medium, a.share, a.p, h) elseif kind == Kind.pressure then a.p elseif kind == Kind.mass then a.m elseif kind == Kind.volume then a.m / fluidDensity(a.medium, a.share, a.p, h) elseif kind == Kind.enthalpy then a.m * h else fluidVapour(a.medium, a.share, a.p, h);
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "sensor", keywords = "sensor temperature pressure flow meter measurement loop vapour", width = 64, help = "Measures what flows through it, without taking anything from it.", validity = "Ideal: no pressure drop, no delay."));
end LoopSensor;
