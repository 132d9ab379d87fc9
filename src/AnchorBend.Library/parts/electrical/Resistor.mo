model Resistor "Resistor, also with a heat port and temperature"
  extends BetweenTerminals;
  parameter Real R(unit = "Ohm", min = 0) = 100 "Resistance at the reference temperature";
  parameter Boolean heatPort = false "Show a heat port";
  parameter Real alpha(unit = "1/K") = 0 "Change of resistance with temperature" annotation(__AnchorBend(shown = "heatPort"));
  parameter Real Tref(unit = "K", displayUnit = "degC") = 293.15 "Reference temperature" annotation(__AnchorBend(shown = "heatPort"));
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
equation
  if heatPort then
    v = R * (1 + alpha * (heat.T - Tref)) * i;
    heat.Q = -v * i;
  else
    v = R * i;
  end if;
  annotation(__AnchorBend(example(load = "electrical", near = "p", far = "n"), group = "Electrical", symbol = "resistor", keywords = "resistor ohm resistance heater load", help = "Ohm's law. With the heat port its loss warms a thermal network and its resistance may follow the temperature.", validity = "Linear in current; linear in temperature about the reference, some 100 K for metals."));
end Resistor;
