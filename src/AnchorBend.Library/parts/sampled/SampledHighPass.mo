block SampledHighPass "Sampled high-pass of second order"
  extends SampledSection(bs = {1, 0, 0}, as = {1, sqrt(2) * w, w ^ 2}, exact = w);
  parameter Real f(unit = "Hz", min = 1e-9) = 1 "Corner frequency";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  annotation(__AnchorBend(group = "Sampled", face = "\\text{high}_2\\big|_T", keywords = "discrete high pass butterworth sampled filter", width = 80, help = "Butterworth filter of second order at sample times by the bilinear rule (Tustin); the corner is where it is asked for.", validity = "The corner below half the sampling rate."));
end SampledHighPass;
