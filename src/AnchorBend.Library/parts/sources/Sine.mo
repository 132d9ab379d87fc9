block Sine "A sine wave"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude";
  parameter Real f(unit = "Hz") = 1 "Frequency";
  parameter Real phase(unit = "rad", displayUnit = "deg") = 0 "Phase at the start time";
  parameter Real offset = 0 "Mean value";
  parameter Real startTime(unit = "s") = 0 "The output is the offset before";
protected
  constant Real pi = 3.141592653589793;
equation
  y = offset + (if time >= startTime then amplitude * sin(2 * pi * f * (time - startTime) + phase) else 0);
  annotation(__AnchorBend(example(feeds = "further", size = "offset", swing = "amplitude", rate = "f"), group = "Sources", symbol = "sine", keywords = "wave oscillation harmonic disturbance", width = 64,
    help = "Oscillates about the offset from the start time on.", validity = "Exact."));
end Sine;
