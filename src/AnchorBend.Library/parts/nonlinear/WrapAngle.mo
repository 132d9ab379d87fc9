block WrapAngle "Angle within one turn"
  input Real u(unit = "rad", displayUnit = "deg") "Angle";
  output Real y(unit = "rad", displayUnit = "deg") "Angle, −π to π";
protected
  constant Real turn(unit = "rad") = 6.283185307179586;
equation
  y = u - turn * floor(u / turn + 0.5);
  annotation(__AnchorBend(group = "Limits and friction", symbol = "wrap", keywords = "wrap angle turn heading modulo", width = 64, help = "Takes whole turns off; each jump is an event.", validity = "Exact; jumps by one turn."));
end WrapAngle;
