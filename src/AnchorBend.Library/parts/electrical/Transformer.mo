model Transformer "Transformer without losses"
  ElectricalPort p1 "First winding, positive" annotation(__AnchorBend(side = "left"));
  ElectricalPort n1 "First winding, negative" annotation(__AnchorBend(side = "left"));
  ElectricalPort p2 "Second winding, positive" annotation(__AnchorBend(side = "right"));
  ElectricalPort n2 "Second winding, negative" annotation(__AnchorBend(side = "right"));
  parameter Real ratio(unit = "1") = 10 "Voltage of the first over voltage of the second winding";
equation
  p1.v - n1.v = ratio * (p2.v - n2.v);
  p1.i + n1.i = 0;
  p2.i + n2.i = 0;
  ratio * p1.i + p2.i = 0;
  annotation(__AnchorBend(group = "Electrical", symbol = "transformer", keywords = "ideal transformer ratio isolation winding", height = 64, separates = true, help = "Ideal also for direct voltage. It separates its two sides: each needs a ground.", validity = "No losses, no magnetising current, so it would pass direct current too: use it for alternating current."));
end Transformer;
