model PlateExchanger "Plate heat exchanger"
  parameter Integer n(min = 3, max = 2000) = 20 "Plates";
  parameter Real L(unit = "m", displayUnit = "mm", min = 1e-3) = 0.5 "Length of a plate between its ports";
  parameter Real W(unit = "m", displayUnit = "mm", min = 1e-3) = 0.2 "Width of a plate";
  parameter Real b(unit = "m", displayUnit = "mm", min = 1e-4) = 0.0025 "Depth of the corrugation";
  parameter Real wave(unit = "m", displayUnit = "mm", min = 1e-4) = 0.009 "Wavelength of the corrugation";
  parameter Real angle(unit = "rad", displayUnit = "deg", min = 0.05, max = 1.5) = 1.0471975511965976 "Angle of the corrugation to the flow";
  parameter Real t(unit = "m", displayUnit = "mm", min = 1e-5) = 0.0005 "Thickness of a plate";
  parameter Real port(unit = "m", displayUnit = "mm", min = 1e-3) = 0.05 "Diameter of the ports";
  extends HeatExchanger(content = {floor(n / 2) * b * W * L, max(1, floor((n - 1) / 2)) * b * W * L}, free = {floor(n / 2) * b * W, max(1, floor((n - 1) / 2)) * b * W}, wide = {2 * b / enlarged, 2 * b / enlarged}, surface = {max(1, n - 2) * W * L * enlarged, max(1, n - 2) * W * L * enlarged}, resistance = t / (k * max(1, n - 2) * W * L * enlarged), metal = n * W * L * enlarged * t);
protected
  parameter Real x(unit = "1") = pi * b / wave;
  parameter Real enlarged(unit = "1") = (1 + sqrt(1 + x ^ 2) + 4 * sqrt(1 + x ^ 2 / 2)) / 6 "Surface by that of a flat plate";
  parameter Real height(unit = "m", displayUnit = "mm") = n * t + (n - 1) * b "Thickness of the pack";
  Real friction[2](each unit = "1", each start = 1) "Friction factor";
equation
  assert(port < 0.5 * W, "The ports do not fit: two of them stand beside each other on the width of a plate.");
  assert(t < b, "The plates are thicker than their corrugation is deep.");
  effectiveness = noEvent(if m[1] * m[2] >= 0 then parallelEffectiveness(ntu, ratio) else counterEffectiveness(ntu, ratio));
  for i in 1:2 loop
    friction[i] = plateFriction(reynolds[i], angle);
    nusselt[i] = 0.122 * prandtl[i] ^ (1 / 3) * (friction[i] * reynolds[i] ^ 2 * sin(2 * angle)) ^ 0.374;
    loss[i] = friction[i] * L / wide[i] + 1.4 * (free[i] / (pi / 4 * port ^ 2)) ^ 2;
    assert(reynolds[i] > 400 or reynolds[i] < 11, "The Reynolds number is below 400, where the correlation of the plates begins.", AssertionLevel.warning);
    assert(reynolds[i] < 10000, "The Reynolds number is above 10000, where the correlation of the plates ends.", AssertionLevel.warning);
  end for;
  fins = {1, 1};
  annotation(__AnchorBend(group = "Heat exchangers", symbol = "exchanger", preview = "plates", width = 96, height = 64, keywords = "heat exchanger plate chevron corrugated gasketed brazed cooler heater", derived = "surface free wide enlarged height", results = "duty effectiveness counter dp TIn TAway reynolds alpha UA", sizes = "L n", help = "Corrugated plates with the fluids in turn between them, each in one pass. Counter or parallel flow follows from the directions of flow. Friction and heat transfer by Martin (Chem. Eng. Process. 35, 1996), with the loss of the ports.", validity = "Reynolds numbers from 400 to 10000, angles from 10 to 80 degrees; viscosity at the wall as in the fluid; heat transfer of one phase."));
end PlateExchanger;
