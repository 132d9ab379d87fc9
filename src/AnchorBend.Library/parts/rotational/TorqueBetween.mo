model TorqueBetween "Torque from a signal between two shafts"
  extends BetweenShafts;
  input Real u(unit = "N.m") "Torque that turns b against a" annotation(__AnchorBend(side = "top"));
equation
  tau = -u;
  annotation(__AnchorBend(group = "Rotational", symbol = "torque", keywords = "torque actuator internal between", help = "Turns its shafts against each other with the signal's torque.", validity = "Ideal: any speed."));
end TorqueBetween;
