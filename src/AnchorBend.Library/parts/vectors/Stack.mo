block Stack "Joins signals to a vector"
  parameter Integer n(min = 1, max = 50) = 2 "Number of signals";
  input Real u[n] "Signals";
  output Real y[n] "Vector" annotation(__AnchorBend(vector = true));
equation
  y = u;
  annotation(__AnchorBend(example(joins = "vector", size = "n"), group = "Vectors", shape = "stack", symbol = "stack", keywords = "vector join combine collect elements order", width = 40, height = 48, help = "One wire for several signals of one kind, in order. Signals of different kinds are better joined under names, in a bundle.", validity = "Up to 50 signals, all real."));
end Stack;
