model TorqueSource "Torque from a signal"
  input Real u(unit = "N.m") "Torque";
  RotationalPort b "Shaft it drives" annotation(__AnchorBend(side = "right"));
equation
  b.torque = -u;
  annotation(__AnchorBend(group = "Rotational", symbol = "torque", keywords = "torque motor load source", width = 64, help = "Turns its shaft with the signal's torque against the frame.", validity = "Ideal: any speed."));
end TorqueSource;
