model LoopRelief "Relief valve of a loop"
  extends BetweenFluidPorts;
  parameter Real set(unit = "Pa", displayUnit = "bar", min = 1) = 3e5 "Pressure difference at which it begins to open";
  parameter Real rise(unit = "Pa", displayUnit = "bar", min = 1) = 3e4 "Further rise until it is open";
  parameter Real Kv(unit = "m3/s", displayUnit = "m3/h", min = 1e-12) = 2.7777777777777778e-3 "Flow of cold water at 1 bar, open";
  parameter Real leak(unit = "1", min = 1e-9, max = 1) = 1e-5 "Share of the flow that passes closed";
protected
  constant Real water(unit = "kg/m3") = 1000 "Density that the flow coefficient is measured with";
  constant Real bar(unit = "Pa") = 1e5 "Pressure drop that it is measured at";
  Real open(unit = "1") "Share of the flow open";
equation
  open = leak + (1 - leak) * noEvent(min(1, max(0, (dp - set) / rise)));
  m = lossFlow(dp, Kv * sqrt(water / (2 * bar)) * open, 1, da, db, 10);
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "relief", keywords = "relief safety valve overpressure loop", help = "Opens as the pressure difference passes what it is set to, in proportion to the further rise.", validity = "No mass of the valve; liquid, or gas far from the speed of sound."));
end LoopRelief;
