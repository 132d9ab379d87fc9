block Chirp "A sine whose frequency rises steadily"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude";
  parameter Real f1(unit = "Hz") = 0.1 "Frequency at the start";
  parameter Real f2(unit = "Hz") = 10 "Frequency at the end";
  parameter Real duration(unit = "s", min = 1e-9) = 10 "Duration";
  parameter Real offset = 0 "Mean value";
  parameter Real startTime(unit = "s") = 0 "Start";
protected
  constant Real pi = 3.141592653589793;
  Real t "Time since the start";
equation
  t = if time < startTime then 0 elseif time < startTime + duration then time - startTime else duration;
  y = offset + amplitude * sin(2 * pi * (f1 * t + (f2 - f1) * t ^ 2 / (2 * duration)));
  annotation(__AnchorBend(group = "Sources", symbol = "chirp", keywords = "sweep frequency identification test signal", width = 64,
    help = "Sweeps from f1 to f2 in a straight line and then holds its last value.", validity = "The frequency rises straight with time until its end and stays there."));
end Chirp;
