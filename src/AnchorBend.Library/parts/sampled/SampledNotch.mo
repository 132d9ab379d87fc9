block SampledNotch "Sampled notch filter"
  extends SampledSection(bs = {1, 2 * D1 * w, w ^ 2}, as = {1, 2 * D2 * w, w ^ 2}, exact = w);
  parameter Real f(unit = "Hz", min = 1e-9) = 1 "Frequency taken out";
  parameter Real D1(min = 0) = 0.05 "Damping of the zeros; 0 takes the frequency out wholly";
  parameter Real D2(min = 1e-6) = 0.7 "Damping of the poles: width of the notch";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  annotation(__AnchorBend(group = "Sampled", face = "\\frac{s^2+2D_1\\omega s+\\omega^2}{s^2+2D_2\\omega s+\\omega^2}\\big|_T", keywords = "discrete notch band stop sampled filter resonance", width = 120, help = "The continuous notch at sample times by the bilinear rule (Tustin), exact at the frequency taken out.", validity = "The frequency below half the sampling rate."));
end SampledNotch;
