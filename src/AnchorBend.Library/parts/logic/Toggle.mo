block Toggle "Changes over at each rising edge"
  input Boolean u "Input";
  output Boolean y "Output";
  parameter Boolean y0 = false "Start value";
protected
  Boolean q(start = y0, fixed = true);
equation
  when u then
    q = not pre(q);
  end when;
  y = q;
  annotation(__AnchorBend(group = "Logic", symbol = "latch", keywords = "toggle flip flop push button alternate", width = 64, help = "A push button that switches on and off.", validity = "Exact."));
end Toggle;
