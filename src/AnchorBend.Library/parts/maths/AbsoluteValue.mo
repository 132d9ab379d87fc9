block AbsoluteValue "The size without the sign"
  input Real u "Input";
  output Real y "Output";
equation
  y = abs(u);
  annotation(__AnchorBend(group = "Maths", face = "|u|", keywords = "abs magnitude rectify", width = 64, help = "The corner at zero is an event, so it is met exactly.", validity = "Exact; its slope jumps at zero."));
end AbsoluteValue;
