block SampledWashout "Sampled washout"
  extends SampledSection(bs = {0, tau, 0}, as = {0, tau, 1});
  parameter Real tau(unit = "s", min = 1e-9) = 1 "Time constant";
  annotation(__AnchorBend(group = "Sampled", face = "\\frac{\\tau s}{\\tau s+1}\\big|_T", keywords = "discrete washout high pass dc block sampled", width = 96, help = "Lets changes pass and takes the lasting part off, at sample times by the bilinear rule (Tustin).", validity = "Near the continuous part below a tenth of the sampling rate."));
end SampledWashout;
