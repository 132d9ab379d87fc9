block Constant "A value that does not change"
  output Real y "Output";
  parameter Real k = 1 "Value";
equation
  y = k;
  annotation(__AnchorBend(zero = "k", group = "Sources", face = "<<k>>", keywords = "number set-point fixed value", width = 64,
    help = "Gives the value k at all times.", validity = "Exact."));
end Constant;
