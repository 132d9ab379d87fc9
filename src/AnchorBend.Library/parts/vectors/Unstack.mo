block Unstack "Splits a vector into its signals"
  parameter Integer n(min = 1, max = 50) = 2 "Number of signals";
  input Real u[n] "Vector" annotation(__AnchorBend(vector = true));
  output Real y[n] "Signals";
equation
  y = u;
  annotation(__AnchorBend(group = "Vectors", shape = "stack", symbol = "unstack", keywords = "vector split separate elements order", width = 40, height = 48, help = "As many signals as the vector has elements.", validity = "The length must be that of what comes in."));
end Unstack;
