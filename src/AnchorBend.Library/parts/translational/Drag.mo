model Drag "Drag that grows with the square of speed"
  extends BetweenFlanges;
  parameter Real c(unit = "kg/m", min = 0) = 50 "Drag over speed squared: half density times area times coefficient";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real v(unit = "m/s") "Speed through the fluid";
equation
  v = der(length);
  f = c * v * noEvent(abs(v));
  if heatPort then
    heat.Q = -f * v;
  end if;
  annotation(__AnchorBend(group = "Translational", symbol = "convection", keywords = "drag fluid resistance quadratic water air", help = "Resists motion through a fluid that moves with one of its ends, as of a net in still water.", validity = "Turbulent drag in fluid at rest; added mass is not in it."));
end Drag;
