model PlaneSpring "Spring and damper between two points"
  extends BetweenPoints;
  parameter Real k(unit = "N/m", min = 0) = 1000 "Stiffness";
  parameter Real d(unit = "N.s/m", min = 0) = 10 "Damping";
  parameter Real l0(unit = "m", min = 0) = 1 "Length without force";
  parameter Boolean pullsOnly = false "A rope: it pulls and does not push";
  parameter Boolean useLength = false "The length without force comes from a signal";
  input Real l(unit = "m") = l0 "Length without force" annotation(__AnchorBend(optional = "useLength", side = "top"));
protected
  Boolean taut "It pulls";
equation
  taut = not pullsOnly or length > l;
  pull = if taut then (if pullsOnly then noEvent(max(0, k * (length - l) + d * (der(length) - der(l)))) else k * (length - l) + d * (der(length) - der(l))) else 0;
  annotation(__AnchorBend(scene(kind = "rope", x = "a.x", y = "a.y", x2 = "b.x", y2 = "b.y"), group = "Mechanisms", symbol = "spring", keywords = "spring damper rope cable tether plane mechanism points", width = 80, height = 48, help = "Along the line between two points. As a rope it pulls when it is longer than without force, and is free otherwise; its length may be a signal, as of a hoist.", validity = "Points that do not meet; a rope without mass."));
end PlaneSpring;
