block OffDelay "Becomes false late"
  input Boolean u "Input";
  output Boolean y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Delay";
protected
  discrete Real since(start = -1e30) "When the input became false";
  Boolean off;
equation
  off = not u;
  when off then
    since = time;
  end when;
  y = u or time < since + T;
  annotation(__AnchorBend(group = "Logic", symbol = "timer", keywords = "off delay timer TOF drop out", width = 64, help = "True at once; stays true for the delay after the input has become false.", validity = "Exact; interruptions shorter than its time do not show."));
end OffDelay;
