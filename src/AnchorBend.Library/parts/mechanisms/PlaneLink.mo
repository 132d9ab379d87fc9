model PlaneLink "Rigid link without mass"
  extends BetweenFrames;
  parameter Real dx(unit = "m") = 1 "Second frame, along in the first";
  parameter Real dy(unit = "m") = 0 "Second frame, across in the first";
  parameter Real turn(unit = "rad", displayUnit = "deg") = 0 "Angle of the second frame against the first";
equation
  b.x = a.x + dx * cos(a.phi) - dy * sin(a.phi);
  b.y = a.y + dx * sin(a.phi) + dy * cos(a.phi);
  b.phi = a.phi + turn;
  a.t + b.t + (b.x - a.x) * b.fy - (b.y - a.y) * b.fx = 0;
  annotation(__AnchorBend(scene(kind = "link", x = "a.x", y = "a.y", angle = "a.phi", x2 = "b.x", y2 = "b.y"), group = "Mechanisms", symbol = "beam", keywords = "rigid link offset frame plane mechanism", width = 80, height = 32, help = "A further frame at a fixed place and angle in the first one.", validity = "Rigid, no mass."));
end PlaneLink;
