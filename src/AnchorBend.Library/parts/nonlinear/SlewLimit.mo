block SlewLimit "Limits how fast a signal changes"
  input Real u "Input";
  output Real y "Output";
  parameter Real rising(min = 0) = 1 "Fastest rise per second";
  parameter Real falling(min = 0) = 1 "Fastest fall per second";
  parameter Real T(unit = "s", min = 1e-9) = 0.001 "Time constant of the following";
  parameter Real y0 = 0 "Start value";
protected
  Real x(start = y0);
  Real rate "Wanted rate";
equation
  rate = (u - x) / T;
  der(x) = if rate > rising then rising elseif rate < -falling then -falling else rate;
  y = x;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "rate", keywords = "slew rate ramp limit speed", width = 64, help = "Follows the input no faster than the limits. Below them it lags by the small time constant T.", validity = "Exact for inputs without jumps; a jump is followed at the greatest rate."));
end SlewLimit;
