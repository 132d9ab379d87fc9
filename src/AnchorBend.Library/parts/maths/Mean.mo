block Mean "Mean of many signals"
  parameter Integer n(min = 1, max = 50) = 3 "Number of inputs";
  input Real u[n] "Inputs";
  output Real y "Mean";
equation
  y = sum(u) / n;
  annotation(__AnchorBend(group = "Maths", face = "\\bar u", keywords = "mean average of signals", width = 64, help = "The arithmetic mean at each instant.", validity = "Exact."));
end Mean;
