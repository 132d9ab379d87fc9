block Extremum "The smaller or the larger of two signals"
  type Kind = enumeration(smaller "The smaller", larger "The larger");
  input Real u1 "First input";
  input Real u2 "Second input";
  output Real y "Output";
  parameter Kind kind = Kind.smaller "Which one";
equation
  y = if (u1 < u2) == (kind == Kind.smaller) then u1 else u2;
  annotation(__AnchorBend(choiceWords = true, group = "Maths", face = "\\text{<<kind>>}", keywords = "minimum maximum min max select low high", help = "Passes the smaller or the larger of its inputs; the change-over is an event.", validity = "Exact; its slope jumps where the inputs cross."));
end Extremum;
