model ShaftBacklash "Backlash with elastic flanks"
  extends BetweenShafts;
  parameter Real gap(unit = "rad", displayUnit = "deg", min = 0) = 0.01 "Whole backlash";
  parameter Real c(unit = "N.m/rad", min = 0) = 1e4 "Stiffness of the flanks";
  parameter Real d(unit = "N.m.s/rad", min = 0) = 1 "Damping of the flanks";
protected
  Boolean ahead "Touches the forward flank";
  Boolean behind "Touches the backward flank";
equation
  ahead = twist > gap / 2;
  behind = twist < -gap / 2;
  tau = if ahead then noEvent(max(0, c * (twist - gap / 2) + d * der(twist))) elseif behind then noEvent(min(0, c * (twist + gap / 2) + d * der(twist))) else 0;
  annotation(__AnchorBend(group = "Rotational", title = "Backlash (rotational)", symbol = "backlash", keywords = "backlash play gear tooth clearance", help = "No torque within the backlash; then the flank's stiffness and damping. Backlash stands between two inertias.", validity = "Contact by springs that can only push; play above zero."));
end ShaftBacklash;
