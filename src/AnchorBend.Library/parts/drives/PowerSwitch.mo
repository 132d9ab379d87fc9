model PowerSwitch "Transistor with free-wheeling diode"
  extends BetweenTerminals;
  input Boolean gate "Conducts while true" annotation(__AnchorBend(side = "top"));
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance while it conducts";
  parameter Real Vdiode(unit = "V", min = 0) = 0.8 "Knee voltage of the diode";
  parameter Real Rdiode(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of the diode while it conducts";
  parameter Real Goff(unit = "S", min = 1e-12) = 1e-6 "Conductance while both block";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  parameter Real least(unit = "V") = 1e-10 "How far below its knee the diode ends: what rounding makes of no current does not end it";
  Real x(unit = "V") "Voltage above the knee of the diode, negative while it blocks";
  Boolean freewheels "The diode conducts";
equation
  x = -v - Vdiode;
  freewheels = x > (if pre(freewheels) then -least else 0);
  i = v * (if gate then 1 / Ron else Goff) - (if freewheels then x / Rdiode else 0);
  if heatPort then
    heat.Q = -v * i;
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "transistor", keywords = "transistor switch MOSFET IGBT free-wheeling diode gate half-bridge", help = "While its gate is true a small resistance in both directions; else it blocks, but for the diode that takes currents from n to p. The diode's change is found exactly, in time and inside loops.", validity = "Switches at once, so without switching losses; straight lines about the knee of the diode."));
end PowerSwitch;
