model BatteryFeed "Feed from a battery through a cable"
  extends BetweenTerminals;
  parameter Real V(unit = "V") = 48 "Voltage without load";
  parameter Real R(unit = "Ohm", min = 0) = 0.02 "Resistance of battery and cable";
  parameter Real L(unit = "H", min = 1e-12) = 2e-6 "Inductance of the cable";
  output Real y(unit = "A") "Current to the load" annotation(__AnchorBend(side = "bottom"));
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "top", optional = "heatPort"));
protected
  Real current(unit = "A", start = 0, fixed = true) "Current to the load";
equation
  L * der(current) = V - R * current - v;
  i = -current;
  y = current;
  if heatPort then
    heat.Q = -R * current ^ 2;
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "battery", keywords = "battery feed supply cable source DC rails", width = 64, help = "A constant voltage behind the resistance and the inductance of its cable: what a bridge sees when it switches. Give it a link with a capacitor, as the cable's current cannot jump.", validity = "A voltage that does not change with the charge; see Energy store for one that does."));
end BatteryFeed;
