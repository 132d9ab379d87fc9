block Modulo "Remainder after whole parts"
  input Real u "Input";
  output Real y "Remainder, 0 up to the divisor";
  parameter Real m(min = 1e-12) = 1 "Divisor";
equation
  y = mod(u, m);
  annotation(__AnchorBend(group = "Maths", face = "u \\bmod <<m>>", keywords = "modulo remainder wrap phase", width = 80, help = "What is left after as many whole divisors as fit; each fall back is an event.", validity = "The divisor is not zero; the result has its sign."));
end Modulo;
