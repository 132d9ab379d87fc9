model RigidMasses "Two masses joined stiffly"
  Sine push(amplitude = 3, f = 0.5);
  ForceSource force;
  Mass m1(m = 2, v0 = 0.5);
  Mass m2(m = 1, hold = false);
  MotionSensor at(useSpeed = true);
equation
  connect(push.y, force.u);
  connect(force.b, m1.a);
  connect(m1.b, m2.a);
  connect(m2.b, at.a);
end RigidMasses;
// values: closed form
// 0.7 at.v 1.0054077429415185
// 3.3 at.v 1.0054077429415185
