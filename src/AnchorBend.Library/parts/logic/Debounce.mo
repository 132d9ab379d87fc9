block Debounce "Follows only what stays"
  input Boolean u "Input";
  output Boolean y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.05 "Time the input must stay";
  parameter Boolean y0 = false "Start value";
protected
  discrete Real since(start = 0) "Last change of the input";
  Boolean q(start = y0, fixed = true);
  Boolean off;
equation
  off = not u;
  when {u, off} then
    since = time;
  end when;
  q = if time >= since + T then u else pre(q);
  y = q;
  annotation(__AnchorBend(group = "Logic", symbol = "timer", keywords = "debounce bounce contact filter", width = 64, help = "Takes a new value over once it has stayed for the given time.", validity = "Exact; changes shorter than its time are lost on purpose."));
end Debounce;
