model Spring "Spring between two points"
  extends BetweenFlanges;
  parameter Real c(unit = "N/m", min = 0) = 100 "Stiffness";
  parameter Real l0(unit = "m") = 0 "Length without force";
equation
  f = c * (length - l0);
  annotation(__AnchorBend(example(load = "translational", near = "b", far = "a"), group = "Translational", symbol = "spring", keywords = "spring stiffness elastic compliance", help = "Draws its ends together with stiffness times elongation.", validity = "Linear; no yield, no limit of length."));
end Spring;
