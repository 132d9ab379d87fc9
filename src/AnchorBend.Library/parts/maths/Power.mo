block Power "Power of the input"
  input Real u "Input";
  output Real y "Output";
  parameter Real n = 2 "Exponent";
  parameter Boolean signed = false "Keep the sign of the input";
equation
  y = if signed then noEvent(if u >= 0 then u ^ n else -(-u) ^ n) else u ^ n;
  annotation(__AnchorBend(group = "Maths", face = "u^{<<n>>}", keywords = "power square exponent root", width = 64, help = "Raises the input to a power; with the sign kept, the power is taken of the magnitude, as in quadratic drag.", validity = "A negative base needs a whole exponent; zero needs a positive one."));
end Power;
