block HoldWhile "Holds a signal while a condition is true"
  input Real u "Input";
  input Boolean hold "Holds while true";
  output Real y "Output";
  parameter Real y0 = 0 "Value held from the start on, before there was another";
protected
  discrete Real kept(start = y0) "Held value";
equation
  when hold then
    kept = u;
  end when;
  y = if hold then kept else u;
  annotation(__AnchorBend(group = "Logic", title = "Hold", symbol = "stairs", keywords = "hold freeze last value track and hold", width = 64, help = "Passes its input, or holds the value it had when the condition became true.", validity = "Exact; while the condition holds, the value is that of its instant."));
end HoldWhile;
