model ForceBetween "Force from a signal between two points"
  extends BetweenFlanges;
  input Real u(unit = "N") "Force that pushes the ends apart" annotation(__AnchorBend(side = "top"));
equation
  f = -u;
  annotation(__AnchorBend(group = "Translational", symbol = "force", keywords = "force actuator internal between", help = "Pushes its ends apart with the signal's force.", validity = "Ideal: any speed."));
end ForceBetween;
