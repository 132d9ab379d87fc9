block OnDelay "Becomes true late"
  input Boolean u "Input";
  output Boolean y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Delay";
protected
  discrete Real since(start = 0) "When the input became true";
equation
  when u then
    since = time;
  end when;
  y = u and time >= since + T;
  annotation(__AnchorBend(group = "Logic", symbol = "timer", keywords = "on delay timer TON pick up", width = 64, help = "True once the input has been true for the delay; false at once.", validity = "Exact; conditions shorter than its time do not show."));
end OnDelay;
