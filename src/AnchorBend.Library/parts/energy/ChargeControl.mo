block ChargeControl "Charging by constant current, then constant voltage"
  input Real v(unit = "V") "Voltage of the store";
  input Boolean enabled = true "Charges; a new charge begins when it becomes true" annotation(__AnchorBend(optional = "canDisable"));
  output Real y(unit = "A") "Current wanted";
  output Boolean full "Charged" annotation(__AnchorBend(side = "bottom"));
  parameter Real iMax(unit = "A", min = 1e-9) = 5 "Constant current";
  parameter Real vEnd(unit = "V") = 4.15 "Constant voltage";
  parameter Real iEnd(unit = "A", min = 0) = 0.5 "Charged when the current has fallen to this";
  parameter Real k(unit = "A/V", min = 1e-9) = 50 "Gain of the voltage control";
  parameter Real Ti(unit = "s", min = 1e-6) = 30 "Integral time of the voltage control";
  parameter Boolean canDisable = false "With an input that stops charging";
protected
  Real x(unit = "A", start = iMax, fixed = true) "Integral part";
  Real wanted(unit = "A") "Current before its limits";
  Real held(unit = "A") "Current within its limits";
  discrete Boolean done(start = false, fixed = true) "Charged since it was enabled";
equation
  wanted = k * (vEnd - v) + x;
  held = noEvent(max(0, min(iMax, wanted)));
  der(x) = if full or not enabled then 0 else k / Ti * (vEnd - v) + (held - wanted) / Ti;
  when enabled then
    done = false;
  elsewhen held < iEnd and v > vEnd - iMax / k then
    done = true;
  end when;
  full = pre(done);
  y = if full or not enabled then 0 else held;
  annotation(__AnchorBend(group = "Energy stores", symbol = "loop", keywords = "charger CC CV constant current constant voltage charging battery", width = 80, height = 64, help = "The constant current until the voltage is reached, then a current that keeps it there, until that has fallen to its end.", validity = "The store takes the wanted current at once or nearly so."));
end ChargeControl;
