model BipolarSwitch "Transistor with forward drop and free-wheeling diode"
  extends BetweenTerminals;
  input Boolean gate "Conducts from p to n while true" annotation(__AnchorBend(side = "top"));
  parameter Real Vforward(unit = "V", min = 0) = 1.2 "Forward drop at no current";
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 5e-3 "Slope of the drop while it conducts";
  parameter Real Vdiode(unit = "V", min = 0) = 1 "Knee voltage of the diode";
  parameter Real Rdiode(unit = "Ohm", min = 1e-9) = 5e-3 "Resistance of the diode while it conducts";
  parameter Real Goff(unit = "S", min = 1e-12) = 1e-6 "Conductance while both block";
  parameter Boolean heatPort = false "Show a heat port";
  ThermalPort heat if heatPort "Heat of the losses" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  parameter Real least(unit = "V") = 1e-10 "How far below its knee each ends: what rounding makes of no current does not end it";
  Real x(unit = "V") "Voltage above the knee of the diode, negative while it blocks";
  Real z(unit = "V") "Voltage above the forward drop, negative while the transistor blocks";
  Boolean freewheels "The diode conducts";
  Boolean isAbove "The voltage is above the forward drop";
equation
  x = -v - Vdiode;
  z = v - Vforward;
  freewheels = x > (if pre(freewheels) then -least else 0);
  isAbove = z > (if pre(isAbove) then -least else 0);
  i = v * Goff + (if gate and isAbove then z / Ron else 0) - (if freewheels then x / Rdiode else 0);
  if heatPort then
    heat.Q = -v * i;
  end if;
  annotation(__AnchorBend(group = "Drives", symbol = "transistor", keywords = "transistor IGBT bipolar forward drop switch gate free-wheeling diode", help = "While its gate is true it carries current from p to n with a forward drop; currents from n to p go through the diode. All changes are found exactly, in time and inside loops.", validity = "Switches at once, so without switching losses; straight lines about both knees."));
end BipolarSwitch;
