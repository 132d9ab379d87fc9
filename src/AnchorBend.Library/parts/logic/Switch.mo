block Switch "Passes one of two signals"
  input Real u1 "Passed while the condition is true";
  input Boolean condition "Condition";
  input Real u2 "Passed while the condition is false";
  output Real y "Output";
equation
  y = if condition then u1 else u2;
  annotation(__AnchorBend(group = "Logic", symbol = "switch", keywords = "select if choose change-over", width = 64, height = 64, help = "Chooses between two signals.", validity = "Passes at once; both inputs are computed always."));
end Switch;
