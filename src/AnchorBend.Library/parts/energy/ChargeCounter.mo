block ChargeCounter "State of charge by counting"
  input Real i(unit = "A") "Measured current, positive charges";
  output Real y(unit = "1") "State of charge as counted";
  parameter Real Q(unit = "C", displayUnit = "Ah", min = 1) = 36000 "Capacity that it counts with";
  parameter Real y0(unit = "1", min = 0, max = 1) = 0.5 "State of charge at the start";
  parameter Real offset(unit = "A") = 0 "Error of the measured current";
  parameter Real efficiency(unit = "1", min = 1e-3, max = 1) = 1 "Share of the charge put in that it counts";
protected
  Real x(unit = "1", start = y0, fixed = true) "State of charge";
  Real seen(unit = "A") "Current with its error";
equation
  seen = i + offset;
  der(x) = (if noEvent(seen > 0) then efficiency else 1) * seen / Q;
  y = noEvent(max(0, min(1, x)));
  annotation(__AnchorBend(group = "Energy stores", symbol = "gauge", keywords = "coulomb counting charge counter state of charge estimate", width = 64, help = "Adds up the measured current. An offset of the measurement makes it drift: 0.1 A over ten hours are one ampere-hour.", validity = "Knows neither self-discharge nor a capacity that has changed."));
end ChargeCounter;
