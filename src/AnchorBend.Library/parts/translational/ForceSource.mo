model ForceSource "Force from a signal"
  input Real u(unit = "N") "Force";
  TranslationalPort b "Point it acts on" annotation(__AnchorBend(side = "right"));
equation
  b.force = -u;
  annotation(__AnchorBend(group = "Translational", symbol = "force", keywords = "force load source actuator", width = 64, help = "Pushes its port in the direction of growing position; the other side of the force stands on the ground.", validity = "Ideal: any speed."));
end ForceSource;
