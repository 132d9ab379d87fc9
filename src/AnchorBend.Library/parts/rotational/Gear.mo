model Gear "Gear without losses"
  RotationalPort a "Driving shaft" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Driven shaft" annotation(__AnchorBend(side = "right"));
  parameter Real ratio(unit = "1") = 10 "Turns of a for one turn of b; negative turns the other way";
equation
  a.angle = ratio * b.angle;
  ratio * a.torque + b.torque = 0;
  annotation(__AnchorBend(group = "Rotational", symbol = "gear", keywords = "gear gearbox transmission ratio reducer", help = "Rigid and without losses; mounted on the frame, which takes the difference of the torques.", validity = "Rigid, without losses, mass or play."));
end Gear;
