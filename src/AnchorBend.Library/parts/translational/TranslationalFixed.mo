model TranslationalFixed "Point that does not move"
  TranslationalPort a "Point" annotation(__AnchorBend(side = "top"));
  parameter Real s0(unit = "m") = 0 "Position";
equation
  a.position = s0;
  annotation(__AnchorBend(example(drive = "translational", near = "a", set(s0 = "0.1 m")), ends = "translational", endsAs = "Connect a fixed point", group = "Translational", title = "Fixed point", symbol = "fixed", keywords = "ground frame wall fixed reference", width = 48, height = 32, help = "Holds its port at a position.", validity = "Any force."));
end TranslationalFixed;
