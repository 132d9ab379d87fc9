model LoopPump "Pump of a loop"
  extends BetweenFluidPorts;
  RotationalPort shaft if driven "Shaft" annotation(__AnchorBend(side = "bottom", optional = "driven"));
  type Given = enumeration(curve "Characteristic curve", given "Set flow");
  parameter Given kind = Given.curve "What is given";
  parameter Real q(unit = "m3/s", displayUnit = "m3/h", min = 1e-9) = 1.5e-3 "Flow at the working point" annotation(__AnchorBend(shown = "kind == curve"));
  parameter Real H(unit = "m", min = 0) = 8 "Head at the working point" annotation(__AnchorBend(shown = "kind == curve"));
  parameter Real H0(unit = "m", min = 0) = 10 "Head without flow" annotation(__AnchorBend(shown = "kind == curve"));
  parameter Real qMax(unit = "m3/s", displayUnit = "m3/h", min = 1e-9) = 3e-3 "Flow without head" annotation(__AnchorBend(shown = "kind == curve"));
  parameter Real eta(unit = "1", min = 0.01, max = 1) = 0.6 "Efficiency";
  parameter Boolean signal = false "Speed or flow comes from a signal";
  parameter Boolean driven = false "A shaft drives it" annotation(__AnchorBend(shown = "kind == curve"));
  parameter Real nominal(unit = "rad/s", displayUnit = "rpm", min = 1e-3) = 150 "Speed of the curve" annotation(__AnchorBend(shown = "driven"));
  parameter Real speed(unit = "1", min = 0) = 1 "Speed by that of the curve" annotation(__AnchorBend(shown = "kind == curve and not signal"));
  parameter Real m0(unit = "kg/s") = 1 "Flow" annotation(__AnchorBend(shown = "kind == given and not signal"));
  input Real u = if kind == Given.curve then speed else m0 "Speed by that of the curve, or flow in kg/s" annotation(__AnchorBend(optional = "signal", side = "top"));
protected
  constant Real g(unit = "m/s2") = 9.80665 "Gravity";
  parameter Real square(unit = "s2/m5") = ((H - H0) / q + H0 / qMax) / (q - qMax) "Factor of the flow squared";
  parameter Real along(unit = "s/m2") = -H0 / qMax - square * qMax "Factor of the flow";
  Real d(unit = "kg/m3", start = 1000, nominal = 1000) "Density";
  Real rate(unit = "m3/s", displayUnit = "m3/h", nominal = 1e-3) "Volume flow";
  Real head(unit = "m", nominal = 10) "Head";
  Real n(unit = "1") "Speed by that of the curve";
  Real work(unit = "J/kg", nominal = 100) "Work on a kilogram";
  Real power(unit = "W", nominal = 100) "Power at the shaft";
equation
  d = 0.5 * (da + db);
  rate = m / d;
  -dp = d * g * head;
  if kind == Given.curve then
    head = H0 * n ^ 2 + along * n * rate + square * rate * noEvent(abs(rate));
  else
    m = u;
  end if;
  if driven then
    n = der(shaft.angle) / nominal;
    // Torque follows from head and flow at speed; standing still it is that of a brake.
    shaft.torque = power * n * nominal / ((n * nominal) ^ 2 + (1e-3 * nominal) ^ 2);
  else
    n = u;
  end if;
  work = g * head / eta;
  power = m * work;
  b.h = inStream(a.h) + work;
  a.h = inStream(b.h) + work;
  annotation(__AnchorBend(group = "Fluid loops", symbol = "pump", keywords = "pump circulation centrifugal head curve affinity flow", width = 64, height = 64, formula = "H = H_0 n^2 + a n q + b q|q|", help = "Head over flow through three points of its curve, and over speed by the affinity laws: flow with the speed, head with its square. Or a set flow, whatever head that takes. A shaft may drive it. Its work warms the fluid.", validity = "Quadratic curve; efficiency constant; as a brake it follows the curve on; no cavitation."));
end LoopPump;
