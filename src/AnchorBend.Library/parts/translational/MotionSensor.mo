model MotionSensor "Position, speed and acceleration of a point"
  TranslationalPort a "Point" annotation(__AnchorBend(side = "left"));
  parameter Boolean useSpeed = false "Show the speed";
  parameter Boolean useAcceleration = false "Show the acceleration";
  output Real s(unit = "m") "Position";
  output Real v(unit = "m/s") if useSpeed "Speed" annotation(__AnchorBend(optional = "useSpeed"));
  output Real acc(unit = "m/s2") if useAcceleration "Acceleration" annotation(__AnchorBend(optional = "useAcceleration"));
protected
  Real w(unit = "m/s") if useSpeed or useAcceleration "Speed";
equation
  a.force = 0;
  s = a.position;
  if useSpeed or useAcceleration then
    w = der(a.position);
  end if;
  if useSpeed then
    v = w;
  end if;
  if useAcceleration then
    acc = der(w);
  end if;
  annotation(__AnchorBend(group = "Translational", symbol = "sensor", keywords = "position speed velocity acceleration sensor encoder measurement", width = 64, help = "Measures without acting on the point. Speed and acceleration are exact derivatives and show when asked for.", validity = "Ideal: no force."));
end MotionSensor;
