model EnergyStore "Energy store by equivalent circuit, with state of charge"
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "right"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "right"));
  output Real charge(unit = "1") "State of charge, 0 to 1" annotation(__AnchorBend(side = "left"));
  parameter Real Q(unit = "C", displayUnit = "Ah", min = 1) = 36000 "Capacity";
  parameter Real soc0(unit = "1", min = 0, max = 1) = 0.6 "State of charge at the start";
  parameter Real socs[:](each unit = "1") = {0, 0.1, 0.3, 0.5, 0.7, 0.9, 1} "States of charge of the voltage curve";
  parameter Real ocv[size(socs, 1)](each unit = "V") = {10.8, 11.7, 12.1, 12.4, 12.7, 13.1, 13.5} "Open-circuit voltage there";
  parameter Real R0(unit = "Ohm", min = 1e-9) = 0.02 "Series resistance";
  parameter Real R1(unit = "Ohm", min = 1e-9) = 0.01 "Resistance of the slow part";
  parameter Real C1(unit = "F", min = 1e-3) = 2e3 "Capacitance of the slow part";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real i(unit = "A") "Current that charges";
  Real v1(unit = "V", start = 0, fixed = true) "Voltage of the slow part";
  Real soc(unit = "1", start = soc0, fixed = true) "State of charge";
equation
  i = p.i;
  p.i + n.i = 0;
  Q * der(soc) = i;
  C1 * der(v1) = i - v1 / R1;
  p.v - n.v = interpolate(soc, socs, ocv) + R0 * i + v1;
  charge = soc;
  if heatPort then
    heat.Q = -(R0 * i ^ 2 + v1 ^ 2 / R1);
  end if;
  annotation(__AnchorBend(plot = "socs, ocv", group = "Electrical", symbol = "battery", keywords = "battery accumulator cell state of charge equivalent circuit store", height = 64, help = "Open-circuit voltage over the state of charge, a series resistance and one slow resistance–capacitance pair. The measured curve is entered as points. Limits are for a management part: the store itself does not stop at empty or full; the voltage keeps its end values there.", validity = "States of charge within the measured points and currents near those of the measurement; temperature and ageing are not in it."));
end EnergyStore;
