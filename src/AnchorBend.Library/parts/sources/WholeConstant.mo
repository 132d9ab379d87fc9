block WholeConstant "Fixed whole number"
  output Integer y "Output";
  parameter Integer k = 1 "Value";
equation
  y = k;
  annotation(__AnchorBend(group = "Sources", face = "<<k>>", keywords = "integer whole number constant choice mode request", width = 64, help = "Always the same whole number, such as the mode that somebody asks for.", validity = "Exact."));
end WholeConstant;
