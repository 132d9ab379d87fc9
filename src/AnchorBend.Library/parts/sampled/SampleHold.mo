block SampleHold "Takes a sample and holds it"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real offset(unit = "s", min = 0) = 0 "Time of the first sample";
  parameter Real y0 = 0 "Value before the first sample";
protected
  discrete Real held(start = y0);
equation
  when sample(offset, T) then
    held = u;
  end when;
  y = held;
  annotation(__AnchorBend(group = "Sampled", face = "\\text{S/H } <<T>>", keywords = "zero order hold ZOH sampler digital converter", width = 96, help = "Reads its input every T seconds, at exact times that never drift, and holds the value in between.", validity = "Frequencies above half the sampling rate fold over; a filter before it keeps them out."));
end SampleHold;
