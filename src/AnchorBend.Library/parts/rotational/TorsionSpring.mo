model TorsionSpring "Torsion spring between two shafts"
  extends BetweenShafts;
  parameter Real c(unit = "N.m/rad", min = 0) = 1000 "Stiffness";
  parameter Real twist0(unit = "rad", displayUnit = "deg") = 0 "Twist without torque";
equation
  tau = c * (twist - twist0);
  annotation(__AnchorBend(example(load = "rotational", near = "b", far = "a"), group = "Rotational", symbol = "torsion", keywords = "torsion spring shaft stiffness compliance", help = "Torque proportional to the twist.", validity = "Linear; no yield, no limit of the angle."));
end TorsionSpring;
