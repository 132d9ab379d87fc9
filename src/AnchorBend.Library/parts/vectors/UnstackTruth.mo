block UnstackTruth "Takes a vector of truths apart"
  parameter Integer n(min = 1, max = 50) = 2 "Number of signals";
  input Boolean u[n] "Vector" annotation(__AnchorBend(vector = true));
  output Boolean y[n] "Signals";
equation
  y = u;
  annotation(__AnchorBend(group = "Vectors", title = "Unstack truths", shape = "stack", symbol = "unstack", keywords = "vector split elements boolean truths pulses gates", width = 40, height = 48, help = "The elements of a vector of signals that are true or false, in their order.", validity = "Exact."));
end UnstackTruth;
