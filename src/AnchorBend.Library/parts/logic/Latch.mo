block Latch "Latch, set and reset"
  input Boolean set "Sets";
  input Boolean reset "Resets";
  output Boolean y "Output";
  parameter Boolean setWins = false "Set wins when both are true";
  parameter Boolean y0 = false "Start value";
protected
  Boolean q(start = y0, fixed = true);
equation
  q = if setWins then set or pre(q) and not reset else (set or pre(q)) and not reset;
  y = q;
  annotation(__AnchorBend(group = "Logic", symbol = "latch", keywords = "latch flip flop set reset memory SR", width = 64, help = "Stays true from set until reset.", validity = "Exact; where set and reset come together, the stated one wins."));
end Latch;
