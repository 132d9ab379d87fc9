model PlaneSensor "Place and angle of a frame"
  PlanePort a "Frame" annotation(__AnchorBend(side = "left"));
  output Real x(unit = "m") "Place along";
  output Real y(unit = "m") "Place upwards";
  output Real phi(unit = "rad") "Angle";
equation
  x = a.x;
  y = a.y;
  phi = a.phi;
  a.fx = 0;
  a.fy = 0;
  a.t = 0;
  annotation(__AnchorBend(group = "Mechanisms", symbol = "sensor", keywords = "position angle sensor plane mechanism measurement", width = 64, height = 64, help = "Measures without acting on the frame.", validity = "Ideal."));
end PlaneSensor;
