block SoftSaturation "Smooth saturation"
  input Real u "Input";
  output Real y "Output";
  parameter Real limit(min = 1e-12) = 1 "Limit";
  parameter Real k = 1 "Gain at zero";
equation
  y = limit * tanh(k * u / limit);
  annotation(__AnchorBend(group = "Limits and friction", face = "\\tanh", keywords = "soft saturation smooth limit tanh", width = 64, help = "Approaches its limits without a corner.", validity = "Smooth everywhere; nears the limits but does not reach them."));
end SoftSaturation;
