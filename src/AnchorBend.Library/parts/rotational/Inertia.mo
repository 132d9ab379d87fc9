model Inertia "Turning mass on a shaft"
  RotationalPort a "Left shaft end" annotation(__AnchorBend(side = "left"));
  RotationalPort b "Right shaft end" annotation(__AnchorBend(side = "right"));
  parameter Real J(unit = "kg.m2", min = 1e-12) = 0.1 "Moment of inertia";
  parameter Real angle0(unit = "rad", displayUnit = "deg") = 0 "Start angle";
  parameter Real speed0(unit = "rad/s", displayUnit = "rpm") = 0 "Start speed";
  parameter Boolean hold = true "Start values must hold (otherwise they are guesses)";
protected
  Real phi(unit = "rad", start = angle0, fixed = hold, stateSelect = StateSelect.prefer) "Angle";
  Real w(unit = "rad/s", start = speed0, fixed = hold, stateSelect = StateSelect.prefer) "Speed";
equation
  a.angle = phi;
  b.angle = phi;
  w = der(phi);
  J * der(w) = a.torque + b.torque;
  annotation(__AnchorBend(example(moves = "rotational", near = "a", set(hold = "false")), group = "Rotational", symbol = "inertia", keywords = "inertia rotor flywheel moment shaft", help = "A rigid turning mass. Rigidly joined inertias turn as one; give start values to one of them only.", validity = "Rigid and balanced."));
end Inertia;
