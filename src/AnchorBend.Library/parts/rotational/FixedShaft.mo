model FixedShaft "Shaft that does not turn"
  RotationalPort a "Shaft" annotation(__AnchorBend(side = "top"));
  parameter Real angle0(unit = "rad", displayUnit = "deg") = 0 "Angle";
equation
  a.angle = angle0;
  annotation(__AnchorBend(example(drive = "rotational", near = "a", set(angle0 = "60 deg")), ends = "rotational", endsAs = "Connect a fixed point", group = "Rotational", symbol = "fixed", keywords = "housing frame fixed reference ground", width = 48, height = 32, help = "Holds its port at an angle.", validity = "Any torque."));
end FixedShaft;
