block Selector "Chooses one of many signals by number"
  parameter Integer n(min = 1, max = 50) = 3 "Number of inputs";
  input Real index "Number of the input, from 1";
  input Real u[n] "Inputs";
  output Real y "Chosen input";
protected
  Real w[n] "1 for the chosen one";
equation
  for i in 1:n loop
    w[i] = if (i == 1 or index >= i - 0.5) and (i == n or index < i + 0.5) then 1 else 0;
  end for;
  y = w * u;
  annotation(__AnchorBend(group = "Logic", symbol = "select", keywords = "selector multiplexer index choose switch many", width = 64, help = "The number is rounded; below 1 the first, above n the last input is taken.", validity = "The number is rounded down and kept within the inputs."));
end Selector;
