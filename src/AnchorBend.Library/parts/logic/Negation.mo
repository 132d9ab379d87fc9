block Negation "Negation"
  input Boolean u "Input";
  output Boolean y "Output";
equation
  y = not u;
  annotation(__AnchorBend(group = "Logic", face = "\\text{not}", keywords = "not negation inverter", width = 48, help = "True while the input is false.", validity = "Exact."));
end Negation;
