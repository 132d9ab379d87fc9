block Waves "Sea waves with a spectrum"
  output Real y(unit = "m") "Elevation of the surface";
  parameter Real Hs(unit = "m", min = 0) = 0.8 "Significant wave height";
  parameter Real Tp(unit = "s", min = 0.1) = 6 "Period at the peak";
  parameter Real gamma(unit = "1", min = 1) = 1 "Peak enhancement; 1 for a fully developed sea";
  parameter Integer n(min = 4, max = 200) = 40 "Number of waves added";
  parameter Integer seed(min = 0) = 1 "Seed of the phases";
protected
  parameter Real fp = 1 / Tp;
  parameter Real df = 3.5 * fp / n "Distance of the frequencies";
  parameter Real f[n] = {0.5 * fp + (k - 0.5) * df for k in 1:n};
  parameter Real shape[n] = {(f[k] / fp) ^ (-5) * exp(-1.25 * (fp / f[k]) ^ 4)
    * gamma ^ exp(-(f[k] / fp - 1) ^ 2 / (2 * (if f[k] <= fp then 0.07 else 0.09) ^ 2)) for k in 1:n};
  parameter Real scale = Hs ^ 2 / 16 / (sum(shape) * df);
  parameter Real a[n] = {sqrt(2 * scale * shape[k] * df) for k in 1:n};
  parameter Real phase[n] = {2 * 3.141592653589793 * mod((k + 7 * seed) * 0.6180339887498949 + 0.37 * k * k + 0.11 * seed * k, 1) for k in 1:n};
equation
  y = sum({a[k] * sin(2 * 3.141592653589793 * f[k] * time + phase[k]) for k in 1:n});
  annotation(__AnchorBend(group = "Sources", symbol = "waves", keywords = "sea waves heave spectrum JONSWAP Pierson Moskowitz swell", width = 64, help = "Adds sines whose amplitudes follow the spectrum of a fully developed sea (Pierson and Moskowitz, 1964) or, with a peak enhancement, of a growing one (Hasselmann and others, 1973). The significant height is that of all waves added; the seed chooses the phases.", validity = "Long-crested deep-water waves as a sum of a finite number of sines: the sea repeats only after a very long time, and its statistics need many periods."));
end Waves;
