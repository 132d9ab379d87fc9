model EndStop "Two elastic stops around a free way"
  extends BetweenFlanges;
  parameter Real lower(unit = "m") = 0 "Distance of the ends at the lower stop";
  parameter Real upper(unit = "m", min = lower) = 1 "Distance of the ends at the upper stop";
  parameter Real c(unit = "N/m", min = 0) = 1e6 "Stiffness of the stops";
  parameter Real d(unit = "N.s/m", min = 0) = 1e3 "Damping in the stops";
protected
  Boolean atUpper "Touches the upper stop";
  Boolean atLower "Touches the lower stop";
equation
  atUpper = length > upper;
  atLower = length < lower;
  f = if atUpper then noEvent(max(0, c * (length - upper) + d * der(length)))
    elseif atLower then noEvent(min(0, c * (length - lower) + d * der(length))) else 0;
  annotation(__AnchorBend(group = "Translational", symbol = "endstop", keywords = "end stop limit bumper contact gap", help = "Free between the two stops; beyond them stiffness and damping. A stop never pulls.", validity = "Contact by springs with damping that can only push; the stops are apart."));
end EndStop;
