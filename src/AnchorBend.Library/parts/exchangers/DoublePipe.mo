model DoublePipe "Double pipe"
  parameter Real L(unit = "m", min = 1e-3) = 6 "Length";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-4) = 0.02 "Inner diameter of the inner pipe";
  parameter Real t(unit = "m", displayUnit = "mm", min = 1e-5) = 0.0015 "Thickness of the inner pipe";
  parameter Real shell(unit = "m", displayUnit = "mm", min = 1e-4) = 0.036 "Inner diameter of the outer pipe";
  parameter Real rough(unit = "m", displayUnit = "mm", min = 0) = 2e-6 "Roughness";
  extends HeatExchanger(content = {pi / 4 * D ^ 2 * L, pi / 4 * max(1e-12, shell ^ 2 - (D + 2 * t) ^ 2) * L}, free = {pi / 4 * D ^ 2, pi / 4 * max(1e-12, shell ^ 2 - (D + 2 * t) ^ 2)}, wide = {D, max(1e-6, shell - D - 2 * t)}, surface = {pi * D * L, pi * (D + 2 * t) * L}, resistance = log((D + 2 * t) / D) / (2 * pi * k * L), metal = pi / 4 * ((D + 2 * t) ^ 2 - D ^ 2) * L);
protected
  parameter Real slim(unit = "1") = min(1, (D + 2 * t) / shell) "Inner by outer diameter of the gap";
equation
  assert(shell > D + 2 * t, "The inner pipe does not fit into the outer one: its outer diameter is D + 2 t.");
  effectiveness = noEvent(if m[1] * m[2] >= 0 then parallelEffectiveness(ntu, ratio) else counterEffectiveness(ntu, ratio));
  nusselt[1] = pipeNusselt(reynolds[1], prandtl[1], D / L);
  nusselt[2] = noEvent(max(3.66 + 1.2 * slim ^ (-0.8), 0.86 * slim ^ (-0.16) * pipeNusselt(reynolds[2], prandtl[2], wide[2] / L)));
  loss[1] = tubeFriction(reynolds[1], rough / D) * L / D + 1.5;
  loss[2] = tubeFriction(reynolds[2], rough / wide[2]) * L / wide[2] + 1.5;
  fins = {1, 1};
  annotation(__AnchorBend(group = "Heat exchangers", symbol = "exchanger", preview = "doublePipe", width = 96, height = 64, keywords = "heat exchanger double pipe tube in tube annulus cooler heater counter flow", derived = "surface free wide", results = "duty effectiveness counter dp TIn TAway reynolds alpha UA", sizes = "L", help = "One pipe in another. The first fluid flows in the inner pipe, the second in the gap. Counter or parallel flow follows from the directions of flow. Heat transfer by Gnielinski, in the gap with the factor of Petukhov and Roizen; friction by Haaland.", validity = "Heat transfer of one phase, each side mixed; Prandtl numbers from 0.6 to 1000; nothing is lost to the surroundings."));
end DoublePipe;
