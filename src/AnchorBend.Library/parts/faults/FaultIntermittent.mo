block FaultIntermittent "Comes and goes"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  constant Real never(unit = "s") = 1e300 "Beyond all runs";
  parameter Real T(unit = "s", min = 1e-6) = 1 "Period";
protected
  discrete Real next(start = never, fixed = true, unit = "s") "When it changes again; never while it is not there";
  Boolean gone(start = false, fixed = true) "Whether nothing comes now";
  discrete Real held(start = 0) "Value when it went";
equation
  when {initial(), active, not active, time >= pre(next)} then
    gone = active and not pre(gone);
    next = if active then time + T / 2 else never;
  end when;
  when {initial(), gone} then
    held = u;
  end when;
  y = if gone then held else u;
  annotation(__AnchorBend(help = "For the first half of each period the value from its beginning is held.", validity = "While it is not active, its output is its input, exactly."));
end FaultIntermittent;
