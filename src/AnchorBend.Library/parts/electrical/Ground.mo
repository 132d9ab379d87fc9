model Ground "Reference of potential, zero volts"
  ElectricalPort p "Point held at zero volts" annotation(__AnchorBend(side = "top"));
equation
  p.v = 0;
  annotation(__AnchorBend(ends = "electrical", endsAs = "Connect a ground", group = "Electrical", symbol = "ground", keywords = "ground earth reference zero potential", width = 48, height = 32, reference = true, help = "Every electrical network needs one; its potential is zero.", validity = "One for each network is enough; several are joined by it."));
end Ground;
