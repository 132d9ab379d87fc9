block Quantizer "Quantiser"
  input Real u "Input";
  output Real y "Output";
  parameter Real q(min = 1e-12) = 0.1 "Step";
equation
  y = q * floor(u / q + 0.5);
  annotation(__AnchorBend(group = "Limits and friction", title = "Quantiser", symbol = "stairs", keywords = "quantizer quantiser resolution converter encoder steps", width = 64, help = "Rounds to whole steps; each change is an event. Give it smooth inputs or a sample and hold before it.", validity = "Exact; an input at rest on a border may go either way."));
end Quantizer;
