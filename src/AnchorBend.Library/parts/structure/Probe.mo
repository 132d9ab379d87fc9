block Probe "Names and shows a signal"
  input Real u "Input";
  output Real y "The same signal";
equation
  y = u;
  annotation(__AnchorBend(probe = true, group = "Structure", symbol = "probe", keywords = "scope watch display measure point", width = 48, height = 32, help = "Passes its input on and is plotted by default. Any wire can be probed without this part; it gives the signal a place on the diagram.", validity = "Exact."));
end Probe;
