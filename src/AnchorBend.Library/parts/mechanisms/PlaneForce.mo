model PlaneForce "Force and torque from signals"
  PlanePort b "Point" annotation(__AnchorBend(side = "right"));
  input Real fx(unit = "N") = 0 "Force along" annotation(__AnchorBend(optional = "useX"));
  input Real fy(unit = "N") = 0 "Force upwards" annotation(__AnchorBend(optional = "useY"));
  input Real t(unit = "N.m") = 0 "Torque" annotation(__AnchorBend(optional = "useTorque"));
  parameter Boolean useX = false "With a force along";
  parameter Boolean useY = false "With a force upwards";
  parameter Boolean useTorque = false "With a torque";
  parameter Boolean turns = false "Directions turn with the frame";
protected
  Real angle(unit = "rad") "Angle of the directions";
equation
  angle = if turns then b.phi else 0;
  b.fx = -(fx * cos(angle) - fy * sin(angle));
  b.fy = -(fx * sin(angle) + fy * cos(angle));
  b.t = -t;
  annotation(__AnchorBend(group = "Mechanisms", symbol = "force", keywords = "force torque source plane mechanism load wind", width = 64, height = 48, help = "Acts at a point: in the directions of the surroundings, or of the frame.", validity = "Whatever the motion."));
end PlaneForce;
