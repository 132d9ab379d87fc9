block Rounding "Rounds to whole numbers"
  type Kind = enumeration(nearest "Nearest", down "Down", up "Up", zero "Towards zero");
  input Real u "Input";
  output Real y "Output";
  parameter Kind kind = Kind.nearest "Direction";
equation
  y = if kind == Kind.nearest then floor(u + 0.5) elseif kind == Kind.down then floor(u) elseif kind == Kind.up then ceil(u) else (if u >= 0 then floor(u) else ceil(u));
  annotation(__AnchorBend(group = "Maths", symbol = "stairs", keywords = "round floor ceil truncate integer", width = 64, help = "Rounds; each change is an event.", validity = "Exact; jumps at the halves or at whole numbers."));
end Rounding;
