block FaultGain "Multiplies by a value"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real value = 1 "Factor";
equation
  y = if active then value * u else u;
  annotation(__AnchorBend(help = "Multiplies the signal by a factor.", validity = "While it is not active, its output is its input, exactly."));
end FaultGain;
