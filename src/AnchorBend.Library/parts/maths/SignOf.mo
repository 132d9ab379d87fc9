block SignOf "Sign of a signal"
  input Real u "Input";
  output Real y "−1, 0 or 1";
equation
  y = if u > 0 then 1 elseif u < 0 then -1 else 0;
  annotation(__AnchorBend(group = "Maths", title = "Sign", symbol = "threshold", keywords = "sign direction sgn", width = 64, help = "The change of sign is an event.", validity = "Exact; jumps at zero."));
end SignOf;
