block SampledSecondOrder "Sampled second-order lag"
  extends SampledSection(bs = {0, 0, k * w ^ 2}, as = {1, 2 * D * w, w ^ 2}, exact = w);
  parameter Real k = 1 "Gain";
  parameter Real w(unit = "rad/s", min = 1e-9) = 1 "Natural frequency";
  parameter Real D(min = 0) = 0.7 "Damping ratio";
  annotation(__AnchorBend(group = "Sampled", face = "\\frac{k\\omega^2}{s^2+2D\\omega s+\\omega^2}\\big|_T", keywords = "discrete second order PT2 sampled bilinear resonance", width = 128, help = "The continuous second-order lag at sample times by the bilinear rule (Tustin), exact at its natural frequency.", validity = "The natural frequency below half the sampling rate; the response is compressed above it."));
end SampledSecondOrder;
