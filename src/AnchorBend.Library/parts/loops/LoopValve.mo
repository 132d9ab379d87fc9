model LoopValve "Valve of a loop"
  extends BetweenFluidPorts;
  type Characteristic = enumeration(linear "Linear", equal "Equal percentage", quick "Quick opening");
  parameter Real Kv(unit = "m3/s", displayUnit = "m3/h", min = 1e-12) = 2.7777777777777778e-3 "Flow of cold water at 1 bar, open";
  parameter Characteristic characteristic = Characteristic.linear "Flow over opening";
  parameter Real range(unit = "1", min = 2) = 50 "Flow open by flow at the least opening" annotation(__AnchorBend(shown = "characteristic == equal"));
  parameter Real leak(unit = "1", min = 0, max = 1) = 1e-4 "Share of the flow that passes closed";
  parameter Boolean oneWay = false "Lets nothing back: a check valve";
  parameter Boolean choked = false "A gas that may reach the speed of sound in it";
  parameter Real xT(unit = "1", min = 0.1, max = 1) = 0.7 "Pressure drop by inlet pressure at which it is choked" annotation(__AnchorBend(shown = "choked"));
  parameter Boolean signal = true "The opening comes from a signal";
  parameter Real opening(unit = "1", min = 0, max = 1) = 1 "Opening" annotation(__AnchorBend(shown = "not signal"));
  input Real u(unit = "1") = opening "Opening, 0 to 1" annotation(__AnchorBend(optional = "signal", side = "top"));
protected
  constant Real water(unit = "kg/m3") = 1000 "Density that the flow coefficient is measured with";
  constant Real bar(unit = "Pa") = 1e5 "Pressure drop that it is measured at";
  Real s(unit = "1") "Opening within its bounds";
  Real open(unit = "1") "Share of the flow open";
  Real area(unit = "m2") "Opening that takes one velocity head";
  Real driving(unit = "Pa", displayUnit = "bar", nominal = 1e5) "Pressure difference that drives the flow";
  Real Y(unit = "1") "Expansion factor";
equation
  s = noEvent(min(1, max(0, u)));
  open = leak + (1 - leak) * (if characteristic == Characteristic.linear then s elseif characteristic == Characteristic.equal then s * range ^ (s - 1) else sqrt(s + 1e-6));
  area = Kv * sqrt(water / (2 * bar)) * open * (if oneWay then noEvent(if dp > 0 then 1 else leak) else 1);
  if choked then
    driving = dp * noEvent(min(1, xT * max(a.p, b.p) / max(abs(dp), 1)));
    Y = 1 - noEvent(min(abs(dp), xT * max(a.p, b.p))) / (3 * xT * noEvent(max(a.p, b.p)));
  else
    driving = dp;
    Y = 1;
  end if;
  m = Y * lossFlow(driving, area, 1, da, db, 10);
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  annotation(__AnchorBend(example(load = "fluid", near = "a", far = "b", set(signal = "false")), group = "Fluid loops", symbol = "bowtie", keywords = "valve control Kv opening characteristic check orifice choked restriction", formula = "m = Y K_v f(s) \\sqrt{\\varrho \\Delta p}", help = "Flow coefficient with a characteristic over the opening (IEC 60534-2-1). The flow is throttled without change of enthalpy. A gas is choked beyond a share of its inlet pressure. As a check valve it lets only the leakage back.", validity = "No cavitation; the law of the square root down to 10 Pa, below it laminar."));
end LoopValve;
