model Damper "Viscous damper between two points"
  extends BetweenFlanges;
  parameter Real d(unit = "N.s/m", min = 0) = 10 "Damping";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real loss(unit = "W") "Lost power";
equation
  f = d * der(length);
  loss = f * der(length);
  if heatPort then
    heat.Q = -loss;
  end if;
  annotation(__AnchorBend(example(load = "translational", near = "b", far = "a"), group = "Translational", symbol = "damper", keywords = "damper dashpot viscous friction", help = "Resists the relative speed of its ends. The lost power can be led to a thermal network.", validity = "Linear in speed."));
end Damper;
