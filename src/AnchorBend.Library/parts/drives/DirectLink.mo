model DirectLink "Direct-voltage link with its capacitor"
  extends BetweenTerminals;
  parameter Real C(unit = "F", min = 1e-12) = 1e-3 "Capacitance";
  parameter Real R(unit = "Ohm", min = 1e-9) = 5e-3 "Series resistance of the capacitor";
  parameter Real v0(unit = "V") = 0 "Voltage of the capacitor at the start";
  parameter Real G(unit = "S", min = 0) = 0 "Conductance that discharges it";
  output Real y(unit = "V") "Voltage of the link" annotation(__AnchorBend(side = "bottom"));
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "top", optional = "heatPort"));
protected
  Real vc(unit = "V", start = v0, fixed = true) "Voltage of the capacitor";
  Real ic(unit = "A") "Current of the capacitor";
equation
  C * der(vc) = ic;
  v = vc + R * ic;
  i = ic + G * v;
  y = v;
  if heatPort then
    heat.Q = -(R * ic ^ 2 + G * v ^ 2);
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "capacitor", keywords = "DC link intermediate circuit capacitor rails bus", width = 64, help = "The capacitor between the rails of a bridge with its series resistance, charged at the start, and the resistor that discharges it.", validity = "Constant capacitance; no inductance of its own."));
end DirectLink;
