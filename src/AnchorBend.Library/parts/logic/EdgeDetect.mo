block EdgeDetect "True for a while after a change"
  type Kind = enumeration(rising "Becomes true", falling "Becomes false", any "Either");
  input Boolean u "Input";
  output Boolean y "Output";
  parameter Kind kind = Kind.rising "Change";
  parameter Real T(unit = "s", min = 1e-9) = 1e-3 "Length of the output pulse";
protected
  discrete Real until(start = -1) "End of the pulse";
  Boolean up;
  Boolean down;
equation
  up = u;
  down = not u;
  when up then
    if kind <> Kind.falling then
      until = time + T;
    end if;
  elsewhen down then
    if kind <> Kind.rising then
      until = time + T;
    end if;
  end when;
  y = time < until;
  annotation(__AnchorBend(group = "Logic", title = "Edge", symbol = "edge", keywords = "edge rising falling trigger one shot change", width = 64, help = "A pulse of given length at each change of the chosen kind.", validity = "Exact; changes faster than its pulse are one."));
end EdgeDetect;
