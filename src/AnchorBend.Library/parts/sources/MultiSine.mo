block MultiSine "Sum of sines for a frequency response"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude of each sine";
  parameter Real f0(unit = "Hz", min = 1e-9) = 0.1 "Lowest frequency; the others are multiples";
  parameter Integer n(min = 1, max = 200) = 10 "Number of sines";
  parameter Real offset = 0 "Middle value";
equation
  y = offset + amplitude * sum({sin(2 * 3.141592653589793 * k * f0 * time - 3.141592653589793 * k * (k - 1) / n) for k in 1:n});
  annotation(__AnchorBend(group = "Sources", symbol = "chirp", keywords = "multi sine multisine excitation crest frequency response", width = 64, help = "Multiples of one frequency with equal amplitudes; the phases keep the peaks low (Schroeder, IEEE Transactions on Information Theory 16, 1970).", validity = "Frequencies above zero; the crest grows with their number unless phases are spread."));
end MultiSine;
