block HysteresisSwitch "Condition with two thresholds"
  input Real u "Input";
  output Boolean y "Output";
  parameter Real upper = 1 "Becomes true above";
  parameter Real lower(max = upper) = 0 "Becomes false below";
  parameter Boolean y0 = false "Start value";
protected
  Boolean q(start = y0, fixed = true);
equation
  q = if pre(q) then u > lower else u > upper;
  y = q;
  annotation(__AnchorBend(group = "Logic", title = "Hysteresis", symbol = "loop", keywords = "hysteresis threshold Schmitt trigger limit switch", width = 64, help = "True above the upper threshold until the input falls below the lower one.", validity = "Exact at the crossings; the upper threshold is above the lower one."));
end HysteresisSwitch;
