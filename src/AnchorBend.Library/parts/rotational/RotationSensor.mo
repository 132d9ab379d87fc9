model RotationSensor "Angle, speed and acceleration of a shaft"
  RotationalPort a "Shaft" annotation(__AnchorBend(side = "left"));
  parameter Boolean useAngle = false "Show the angle";
  parameter Boolean useAcceleration = false "Show the acceleration";
  output Real phi(unit = "rad") if useAngle "Angle" annotation(__AnchorBend(optional = "useAngle"));
  output Real w(unit = "rad/s") "Speed";
  output Real acc(unit = "rad/s2") if useAcceleration "Acceleration" annotation(__AnchorBend(optional = "useAcceleration"));
equation
  a.torque = 0;
  w = der(a.angle);
  if useAngle then
    phi = a.angle;
  end if;
  if useAcceleration then
    acc = der(w);
  end if;
  annotation(__AnchorBend(group = "Rotational", symbol = "sensor", keywords = "angle speed encoder tachometer acceleration sensor", width = 64, help = "Measures without acting on the shaft.", validity = "Ideal: no torque."));
end RotationSensor;
