block SampledLowPass "Sampled low-pass of second order"
  extends SampledSection(bs = {0, 0, w ^ 2}, as = {1, sqrt(2) * w, w ^ 2}, exact = w);
  parameter Real f(unit = "Hz", min = 1e-9) = 1 "Corner frequency";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  annotation(__AnchorBend(group = "Sampled", face = "\\text{low}_2\\big|_T", keywords = "discrete low pass butterworth sampled filter smoothing", width = 80, help = "Butterworth filter of second order at sample times by the bilinear rule (Tustin); the corner is where it is asked for. Several in a row give a higher order.", validity = "The corner below half the sampling rate."));
end SampledLowPass;
