block DampedSine "Sine that dies away"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude at the start";
  parameter Real f(unit = "Hz", min = 0) = 1 "Frequency";
  parameter Real damping(unit = "1/s") = 1 "Rate of decay";
  parameter Real phase(unit = "rad", displayUnit = "deg") = 0 "Phase";
  parameter Real offset = 0 "Middle value";
  parameter Real startTime(unit = "s") = 0 "Start";
equation
  y = offset + (if time < startTime then 0 else amplitude * exp(-damping * (time - startTime)) * sin(2 * 3.141592653589793 * f * (time - startTime) + phase));
  annotation(__AnchorBend(group = "Sources", symbol = "sine", keywords = "damped exponential sine ringing decay", width = 64, help = "A sine whose amplitude decays exponentially.", validity = "Exact."));
end DampedSine;
