block Counter "Counts rising edges"
  input Boolean u "Counted";
  input Boolean reset = false "Sets back to zero" annotation(__AnchorBend(optional = "withReset"));
  output Real y "Count";
  parameter Boolean withReset = false "With a reset input";
  parameter Integer modulus(min = 0) = 0 "Begins again at this count; 0 for never";
protected
  discrete Real n(start = 0) "Count";
equation
  when reset then
    n = 0;
  elsewhen u then
    n = if modulus > 0 and pre(n) + 1 >= modulus then 0 else pre(n) + 1;
  end when;
  y = n;
  annotation(__AnchorBend(group = "Logic", symbol = "counter", keywords = "counter count events pulses modulo", width = 64, help = "Counts how often its input has become true.", validity = "Exact; one edge at a time, to 9·10¹⁵."));
end Counter;
