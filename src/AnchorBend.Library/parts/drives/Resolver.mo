block Resolver "Angle by sine and cosine"
  input Real angle(unit = "rad") "Angle of the shaft";
  output Real sine(unit = "V") "Demodulated sine";
  output Real cosine(unit = "V") "Demodulated cosine";
  parameter Integer pairs(min = 1) = 1 "Pole pairs";
  parameter Real amplitude(unit = "V") = 1 "Amplitude";
  parameter Real unlike = 0 "By how much of it the cosine is larger";
  parameter Real skew(unit = "rad", displayUnit = "deg") = 0 "Angle by which the cosine is not at right angles";
equation
  sine = amplitude * sin(pairs * angle);
  cosine = amplitude * (1 + unlike) * cos(pairs * angle + skew);
  annotation(__AnchorBend(group = "Drives", face = "\\sin\\varphi,\\;\\cos\\varphi", keywords = "resolver sine cosine angle position sensor", width = 80, help = "What a resolver gives behind its demodulation. The angle is atan2 of both; unlike amplitudes and a skew make it wave twice a turn.", validity = "Slow against the excitation."));
end Resolver;
