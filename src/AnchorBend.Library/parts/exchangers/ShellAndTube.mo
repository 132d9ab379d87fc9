model ShellAndTube "Shell and tube"
  type Layout = enumeration(triangle "Triangle", square "Square");
  parameter Integer n(min = 1, max = 20000) = 52 "Tubes";
  parameter Real L(unit = "m", min = 1e-2) = 2 "Length of the tubes";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-4) = 0.016 "Outer diameter of a tube";
  parameter Real t(unit = "m", displayUnit = "mm", min = 1e-5) = 0.0015 "Thickness of a tube";
  parameter Layout layout = Layout.triangle "Layout of the tubes";
  parameter Real pitch(unit = "m", displayUnit = "mm", min = 1e-4) = 0.02 "Distance of the middles of tubes";
  parameter Integer tubePasses(min = 1, max = 16) = 2 "Passes of the tubes";
  parameter Real shell(unit = "m", displayUnit = "mm", min = 1e-3) = 0.2 "Inner diameter of the shell";
  parameter Real baffle(unit = "m", displayUnit = "mm", min = 1e-3) = 0.1 "Distance of the baffles";
  parameter Integer shells(min = 1, max = 20) = 1 "Shells in series" annotation(__AnchorBend(shown = "tubePasses > 1"));
  parameter Real rough(unit = "m", displayUnit = "mm", min = 0) = 2e-6 "Roughness";
  extends HeatExchanger(content = {n * pi / 4 * (D - 2 * t) ^ 2 * L, max(1e-9, pi / 4 * (shell ^ 2 - n * D ^ 2) * L)}, free = {n / tubePasses * pi / 4 * (D - 2 * t) ^ 2, max(1e-9, shell * baffle * (pitch - D) / pitch)}, wide = {D - 2 * t, equivalent}, surface = {n * pi * (D - 2 * t) * L, n * pi * D * L}, resistance = log(D / max(1e-6, D - 2 * t)) / (2 * pi * k * n * L), metal = n * pi / 4 * (D ^ 2 - (D - 2 * t) ^ 2) * L);
protected
  parameter Real equivalent(unit = "m", displayUnit = "mm") = if layout == Layout.triangle then 4 * max(1e-9, sqrt(3) / 4 * pitch ^ 2 - pi / 8 * D ^ 2) / (pi * D / 2) else 4 * max(1e-9, pitch ^ 2 - pi / 4 * D ^ 2) / (pi * D) "Equivalent diameter of the side of the shell";
  parameter Real fit(unit = "1") = 0.785 * (if tubePasses == 1 then 0.93 elseif tubePasses == 2 then 0.9 else 0.85) / (if layout == Layout.triangle then 0.87 else 1) * (shell / pitch) ^ 2 "How many tubes fit into the shell";
  Real single(unit = "1", start = 0.5) "Effectiveness of one shell";
equation
  assert(pitch > D, "The tubes touch: the distance of their middles must be more than their outer diameter.");
  assert(D > 2 * t, "A tube has no opening: its thickness is half of its diameter.");
  assert(n <= 1.02 * fit, "More tubes than fit into the shell (Kakac: 0.785 CTP/CL (Ds/Pt)^2). Take a larger shell, fewer or closer tubes.");
  assert(baffle <= L, "The baffles are further apart than the tubes are long.");
  single = shellEffectiveness(ntu / shells, ratio);
  effectiveness = noEvent(if tubePasses == 1 then (if m[1] * m[2] >= 0 then parallelEffectiveness(ntu, ratio) else counterEffectiveness(ntu, ratio)) else counterSeries(single, ratio, shells));
  nusselt[1] = pipeNusselt(reynolds[1], prandtl[1], wide[1] / L);
  nusselt[2] = 0.36 * reynolds[2] ^ 0.55 * prandtl[2] ^ (1 / 3);
  loss[1] = tubePasses * (tubeFriction(reynolds[1], rough / wide[1]) * L / wide[1] + 4);
  loss[2] = exp(0.576 - 0.19 * log(reynolds[2])) * max(1, L / baffle) * shell / wide[2];
  fins = {1, 1};
  assert(reynolds[2] > 2000 or reynolds[2] < 11, "The Reynolds number of the shell is below 2000, where the correlation begins.", AssertionLevel.warning);
  assert(reynolds[2] < 1e6, "The Reynolds number of the shell is above 1000000, where the correlation ends.", AssertionLevel.warning);
  annotation(__AnchorBend(group = "Heat exchangers", symbol = "exchanger", preview = "shell", width = 96, height = 64, keywords = "heat exchanger shell tube bundle baffle condenser cooler heater Kern", derived = "surface free wide fit", results = "duty effectiveness counter dp TIn TAway reynolds alpha UA", sizes = "L n", help = "Tubes in a shell with baffles. The first fluid flows in the tubes, the second across them. With one pass of tubes counter or parallel flow follows from the directions; with two or more it is that of a shell with even passes, of several shells in opposite order. Tubes by Gnielinski and Haaland, shell by Kern (Process Heat Transfer; Kakac and Liu, chapter 8).", validity = "Baffles with a cut of a quarter; Reynolds numbers of the shell from 2000 to a million; heat transfer of one phase; no leaks past the baffles."));
end ShellAndTube;
