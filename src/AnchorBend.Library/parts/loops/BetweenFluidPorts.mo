partial model BetweenFluidPorts "Something that a fluid flows through and that holds none of it"
  FluidPort a "First port" annotation(__AnchorBend(side = "left"));
  FluidPort b "Second port" annotation(__AnchorBend(side = "right"));
protected
  Real m(unit = "kg/s", nominal = 1) "Mass flow from a to b";
  Real dp(unit = "Pa", displayUnit = "bar", nominal = 1e5) "Pressure from a to b";
  Real da(unit = "kg/m3", start = 1000, nominal = 1000) "Density of what comes from a";
  Real db(unit = "kg/m3", start = 1000, nominal = 1000) "Density of what comes from b";
equation
  a.m = m;
  b.m = -m;
  dp = a.p - b.p;
  a.c = inStream(b.c);
  b.c = inStream(a.c);
  da = fluidDensity(a.medium, a.share, a.p, inStream(a.h));
  db = fluidDensity(a.medium, a.share, b.p, inStream(b.h));
  Connections.branch(a, b);
end BetweenFluidPorts;
