block SampledLeadLag "Sampled lead or lag"
  extends SampledSection(bs = {0, k * T1, k}, as = {0, T2, 1});
  parameter Real k = 1 "Gain";
  parameter Real T1(unit = "s", min = 0) = 1 "Time constant of the zero";
  parameter Real T2(unit = "s", min = 1e-9) = 0.2 "Time constant of the pole";
  annotation(__AnchorBend(group = "Sampled", face = "\\frac{T_1s+1}{T_2s+1}\\big|_T", keywords = "discrete lead lag compensator sampled bilinear", width = 112, help = "The continuous lead or lag at sample times by the bilinear rule (Tustin).", validity = "Near the continuous part below a tenth of the sampling rate."));
end SampledLeadLag;
