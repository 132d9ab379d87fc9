model GearedDrive "A geared drive with a soft shaft"
  Constant torque(k = 2);
  TorqueSource drive;
  Inertia rotor(J = 0.01, hold = false);
  Gear gear(ratio = 5);
  Inertia drum(J = 0.5);
  TorsionSpring shaft(c = 40);
  Inertia load(J = 0.3);
  TorsionDamper water(d = 0.8);
  FixedShaft frame;
  RotationSensor at;
equation
  connect(torque.y, drive.u);
  connect(drive.b, rotor.a);
  connect(rotor.b, gear.a);
  connect(gear.b, drum.a);
  connect(drum.b, shaft.a);
  connect(shaft.b, load.a);
  connect(load.b, water.a);
  connect(water.b, frame.a);
  connect(load.b, at.a);
end GearedDrive;
// values: matrix exponential
// 0.2 at.w 1.4431756909471958
// 1.0 at.w 6.4536039387136075
// 4.0 at.w 11.929492448853882
// 1.0 rotor.w 34.051060040068315
