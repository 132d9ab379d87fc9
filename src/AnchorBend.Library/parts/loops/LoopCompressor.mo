model LoopCompressor "Fan or compressor"
  extends BetweenFluidPorts;
  RotationalPort shaft if driven "Shaft" annotation(__AnchorBend(side = "bottom", optional = "driven"));
  parameter Real q(unit = "m3/s", displayUnit = "m3/h", min = 1e-9) = 0.5 "Flow at the working point, at the inlet";
  parameter Real work(unit = "J/kg", displayUnit = "kJ/kg", min = 0) = 80 "Isentropic work at the working point";
  parameter Real work0(unit = "J/kg", displayUnit = "kJ/kg", min = 0) = 100 "Isentropic work without flow";
  parameter Real qMax(unit = "m3/s", displayUnit = "m3/h", min = 1e-9) = 1 "Flow without pressure rise";
  parameter Real eta(unit = "1", min = 0.01, max = 1) = 0.7 "Isentropic efficiency";
  parameter Boolean driven = false "A shaft drives it";
  parameter Real nominal(unit = "rad/s", displayUnit = "rpm", min = 1e-3) = 150 "Speed of the curve" annotation(__AnchorBend(shown = "driven"));
  parameter Boolean signal = false "The speed comes from a signal";
  input Real u(unit = "1") = 1 "Speed by that of the curve" annotation(__AnchorBend(optional = "signal", side = "top"));
protected
  parameter Real square(unit = "J.s2/(kg.m6)") = ((work - work0) / q + work0 / qMax) / (q - qMax) "Factor of the flow squared";
  parameter Real along(unit = "J.s/(kg.m3)") = -work0 / qMax - square * qMax "Factor of the flow";
  Real hIn(unit = "J/kg", nominal = 1e5) "Specific enthalpy of what comes from a";
  Real T(unit = "K", displayUnit = "degC", start = 293.15, nominal = 300) "Temperature at the inlet";
  Real cp(unit = "J/(kg.K)", start = 1005, nominal = 1e3) "Specific heat at constant pressure";
  Real gas(unit = "J/(kg.K)", start = 287, nominal = 300) "Gas constant";
  Real exponent(unit = "1", start = 3.5) "Exponent of the pressure ratio: of a gas its specific heat by its gas constant";
  Real n(unit = "1") "Speed by that of the curve";
  Real rate(unit = "m3/s", displayUnit = "m3/h", nominal = 0.1) "Volume flow at the inlet";
  Real given(unit = "J/kg", displayUnit = "kJ/kg", nominal = 500) "Isentropic work on a kilogram";
  Real ratio(unit = "1", start = 1) "Pressure ratio";
  Real power(unit = "W", displayUnit = "kW", nominal = 1e3) "Power at the shaft";
equation
  hIn = inStream(a.h);
  T = fluidTemperature(a.medium, a.share, a.p, hIn);
  cp = fluidHeatCapacity(a.medium, a.share, a.p, hIn);
  gas = a.p / (da * T);
  rate = m / da;
  given = work0 * n ^ 2 + along * n * rate + square * rate * noEvent(abs(rate));
  // As a brake it takes pressure away, down to nothing.
  exponent = noEvent(min(cp / gas, 50));
  ratio = noEvent(max(1e-3, 1 + given / (exponent * gas * T))) ^ exponent;
  // What is hardly compressed, a liquid, is lifted by its density.
  -dp = noEvent(if cp / gas > 50 then da * given else a.p * (ratio - 1));
  power = m * given / eta;
  if driven then
    n = der(shaft.angle) / nominal;
    shaft.torque = power * n * nominal / ((n * nominal) ^ 2 + (1e-3 * nominal) ^ 2);
  else
    n = u;
  end if;
  b.h = inStream(a.h) + given / eta;
  a.h = inStream(b.h) + given / eta;
  annotation(__AnchorBend(group = "Fluid loops", symbol = "compressor", keywords = "fan blower compressor ventilator gas turbo pressure ratio", width = 64, height = 64, formula = "p_2 / p_1 = (1 + y / (c_p T_1))^{c_p / R}", help = "Isentropic work over flow through three points of its curve, and over speed by the affinity laws: work with the square of the speed. The pressure ratio is that of an ideal gas. Driven by a signal, a shaft, or at the speed of the curve.", validity = "A gas that enters at a; quadratic curve without the surge line; efficiency constant."));
end LoopCompressor;
