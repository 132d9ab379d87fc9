model Mass "Mass that slides along a line"
  TranslationalPort a "Left end" annotation(__AnchorBend(side = "left"));
  TranslationalPort b "Right end" annotation(__AnchorBend(side = "right"));
  parameter Real m(unit = "kg", min = 1e-9) = 1 "Mass";
  parameter Real s0(unit = "m") = 0 "Start position";
  parameter Real v0(unit = "m/s") = 0 "Start speed";
  parameter Boolean hold = true "Start values must hold (otherwise they are guesses)";
protected
  Real s(unit = "m", start = s0, fixed = hold, stateSelect = StateSelect.prefer) "Position";
  Real v(unit = "m/s", start = v0, fixed = hold, stateSelect = StateSelect.prefer) "Speed";
equation
  a.position = s;
  b.position = s;
  v = der(s);
  m * der(v) = a.force + b.force;
  annotation(__AnchorBend(example(moves = "translational", near = "a", set(hold = "false")), group = "Translational", symbol = "mass", keywords = "mass body inertia carriage slide", help = "A rigid mass without length. Both ends are the same point. Rigidly joined masses move as one; give start values to one of them only.", validity = "One direction; the force of weight is along it."));
end Mass;
