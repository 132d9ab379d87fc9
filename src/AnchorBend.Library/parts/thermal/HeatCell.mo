model HeatCell "One cell of several"
  ThermalPort a[N] "All cells" annotation(__AnchorBend(side = "left", vector = true));
  ThermalPort b "The one" annotation(__AnchorBend(side = "right"));
  parameter Integer N(min = 1, max = 1000) = 4 "Cells";
  parameter Integer i(min = 1, max = 1000) = 1 "Which of them, from the first";
equation
  assert(i <= N, "There is no cell of this number.");
  b.T = a[min(i, N)].T;
  for j in 1:N loop
    a[j].Q = if j == i then -b.Q else 0;
  end for;
  annotation(__AnchorBend(group = "Thermal", symbol = "tap", keywords = "cell one of several pick tap row thermal sensor", width = 64, help = "Joins one cell of a wall or a pipe: for a sensor, or for a heater that sits at one place. The other cells are not touched.", validity = "Exact."));
end HeatCell;
