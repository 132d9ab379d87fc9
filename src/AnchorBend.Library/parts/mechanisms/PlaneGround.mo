model PlaneGround "Frame that stands still"
  PlanePort b "Frame" annotation(__AnchorBend(side = "right"));
  parameter Real x0(unit = "m") = 0 "Place along";
  parameter Real y0(unit = "m") = 0 "Place upwards";
  parameter Real phi0(unit = "rad", displayUnit = "deg") = 0 "Angle";
equation
  b.x = x0;
  b.y = y0;
  b.phi = phi0;
  annotation(__AnchorBend(example(drive = "plane", near = "b"), ends = "plane", endsAs = "Connect a fixed frame", scene(kind = "ground", x = "b.x", y = "b.y", angle = "b.phi"), group = "Mechanisms", symbol = "fixed", keywords = "ground frame fixed world plane mechanism foundation", width = 48, height = 32, help = "A point of the surroundings with an angle.", validity = "Takes any force and torque."));
end PlaneGround;
