block Gain "Multiplies by a constant"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
equation
  y = k * u;
  annotation(__AnchorBend(group = "Maths", face = "<<k>>", keywords = "factor proportional amplifier multiply *", width = 64, help = "The output is k times the input.", validity = "Exact for all values."));
end Gain;
