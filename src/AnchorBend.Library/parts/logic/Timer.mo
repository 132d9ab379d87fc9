block Timer "Time since a condition became true"
  input Boolean u "Input";
  output Real y(unit = "s") "Time";
protected
  discrete Real since(unit = "s", start = 0) "When it became true";
equation
  when u then
    since = time;
  end when;
  y = if u then time - since else 0;
  annotation(__AnchorBend(group = "Logic", symbol = "timer", keywords = "timer elapsed stopwatch duration", width = 64, help = "Zero while the condition is false.", validity = "Exact; starts anew at each rising edge."));
end Timer;
