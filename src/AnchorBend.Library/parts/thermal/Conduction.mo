model Conduction "Heat conduction"
  extends BetweenSurfaces;
  parameter Real G(unit = "W/K", min = 0) = 1 "Thermal conductance";
equation
  Q = G * (a.T - b.T);
  annotation(__AnchorBend(example(load = "thermal", near = "a", far = "b"), group = "Thermal", symbol = "conduction", keywords = "thermal conductor resistance wall insulation", help = "Heat proportional to the difference of temperatures: conductivity times area over thickness.", validity = "Steady profile within: bodies slow against the square of thickness over diffusivity."));
end Conduction;
