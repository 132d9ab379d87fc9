block StackTruth "Joins truths to a vector"
  parameter Integer n(min = 1, max = 50) = 2 "Number of signals";
  input Boolean u[n] "Signals";
  output Boolean y[n] "Vector" annotation(__AnchorBend(vector = true));
equation
  y = u;
  annotation(__AnchorBend(example(joins = "truths", size = "n"), group = "Vectors", title = "Stack of truths", shape = "stack", symbol = "stack", keywords = "vector join combine boolean truths gates elements", width = 40, height = 48, help = "One wire for several signals that are true or false, in their order.", validity = "Exact."));
end StackTruth;
