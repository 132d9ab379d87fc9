block SixStepControl "Six-step control of speed"
  type Law = enumeration(pi "Proportional and integral", rejecting "Disturbance-rejecting");
  input Real r(unit = "rad/s") "Speed wanted";
  input Real w(unit = "rad/s") "Speed of the shaft";
  input Boolean sensors[3] "Sensors of the rotor" annotation(__AnchorBend(vector = true));
  output Boolean upper[3] "Gates of the upper switches" annotation(__AnchorBend(vector = true));
  output Boolean lower[3] "Gates of the lower switches" annotation(__AnchorBend(vector = true));
  output Real share "Share of the rail voltage, negative to turn back" annotation(__AnchorBend(side = "bottom"));
  parameter Law law = Law.pi "Law";
  parameter Real k(unit = "s/rad") = 0.01 "Gain: share for an error of speed" annotation(__AnchorBend(shown = "law == pi"));
  parameter Real Ti(unit = "s", min = 1e-9) = 0.1 "Integral time" annotation(__AnchorBend(shown = "law == pi"));
  parameter Real b0(unit = "rad/s2") = 2000 "Acceleration by the whole rail voltage" annotation(__AnchorBend(shown = "law == rejecting"));
  parameter Real wc(unit = "rad/s", min = 1e-9) = 20 "Bandwidth of the closed loop" annotation(__AnchorBend(shown = "law == rejecting"));
  parameter Real ratio(min = 1) = 4 "Observer bandwidth over it" annotation(__AnchorBend(shown = "law == rejecting"));
  parameter Real f(unit = "Hz", displayUnit = "kHz", min = 1e-3) = 10000 "Frequency of the pulses";
  parameter Real least(min = 0, max = 0.5) = 0 "Least share of a pulse; the most is 1 less this";
protected
  parameter Boolean rejects = law == Law.rejecting "Disturbances are estimated";
  CommutationTable table(reversible = true);
  CarrierComparison carrier(n = 1, f = f, carrier = CarrierComparison.Carrier.sawtooth, sampling = CarrierComparison.Sampling.once, least = least);
  SixStepGates gates(pulsed = true);
  Real x(start = 0) "Integral part";
  Real z(unit = "rad/s", start = 0) "Estimated speed";
  Real d(unit = "rad/s2", start = 0) "Estimated disturbance";
  Real wanted "Share before its limits";
  parameter Real band(min = 0) = 0.002 "Share by which it has to change its sign before the table turns round";
  Boolean turned(start = false, fixed = true) "The table is turned round";
equation
  wanted = if rejects then (wc * (r - z) - d) / b0 else k * (r - w) + x;
  share = noEvent(max(-1, min(1, wanted)));
  der(x) = if rejects then 0 else k / Ti * (r - w) + (share - wanted) / Ti;
  der(z) = if rejects then b0 * share + d + 2 * ratio * wc * (w - z) else 0;
  der(d) = if rejects then (ratio * wc) ^ 2 * (w - z) else 0;
  table.u = sensors;
  // At rest the share stands at nothing: without a band every trace of current would turn the table, endlessly.
  turned = if pre(turned) then share < band else share < -band;
  table.reverse = turned;
  carrier.duty = {noEvent(max(0, if turned then -share else share))};
  gates.u = table.y;
  gates.pulse = carrier.y[1];
  upper = gates.upper;
  lower = gates.lower;
  annotation(__AnchorBend(choiceWords = true, group = "Drives", symbol = "loop", keywords = "six-step speed control brushless block commutation PWM drive disturbance rejecting", height = 96, width = 112, help = "A speed loop sets the share of the rail voltage; a commutation table chooses the two phases that carry it, the upper switch is pulsed. A negative share turns the table round.", validity = "No limit of the current: let the share rise slowly, or watch the currents. Shares are taken over once a period of the pulses."));
end SixStepControl;
