model TorsionDamper "Viscous damper between two shafts"
  extends BetweenShafts;
  parameter Real d(unit = "N.m.s/rad", min = 0) = 1 "Damping";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
equation
  tau = d * der(twist);
  if heatPort then
    heat.Q = -tau * der(twist);
  end if;
  annotation(__AnchorBend(example(load = "rotational", near = "b", far = "a"), group = "Rotational", symbol = "rotarydamper", keywords = "torsion damper viscous bearing coupling", help = "Resists the relative speed of its shafts.", validity = "Linear in speed."));
end TorsionDamper;
