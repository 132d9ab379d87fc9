block BooleanToReal "Condition to number"
  input Boolean u "Input";
  output Real y "Output";
  parameter Real whenTrue = 1 "Output while true";
  parameter Real whenFalse = 0 "Output while false";
equation
  y = if u then whenTrue else whenFalse;
  annotation(__AnchorBend(group = "Logic", title = "Condition to number", face = "\\text{?}\\to\\mathbb R", keywords = "boolean real convert number", width = 64, help = "One number while true, another while false.", validity = "Exact."));
end BooleanToReal;
