model TranslationalBacklash "Backlash with elastic flanks"
  extends BetweenFlanges;
  parameter Real gap(unit = "m", min = 0) = 1e-3 "Whole backlash";
  parameter Real l0(unit = "m") = 0 "Distance of the ends in the middle";
  parameter Real c(unit = "N/m", min = 0) = 1e6 "Stiffness of the flanks";
  parameter Real d(unit = "N.s/m", min = 0) = 100 "Damping of the flanks";
protected
  Real x(unit = "m") "Way from the middle";
  Boolean right "Touches the right flank";
  Boolean left "Touches the left flank";
equation
  x = length - l0;
  right = x > gap / 2;
  left = x < -gap / 2;
  f = if right then noEvent(max(0, c * (x - gap / 2) + d * der(x))) elseif left then noEvent(min(0, c * (x + gap / 2) + d * der(x))) else 0;
  annotation(__AnchorBend(group = "Translational", title = "Backlash (translational)", symbol = "backlash", keywords = "backlash play gap clearance", help = "No force while the ends are within the backlash; then the flank's stiffness and damping.", validity = "Contact by springs that can only push; play above zero."));
end TranslationalBacklash;
