block Slip "Dead band that holds the last value"
  input Real u "Input";
  output Real y "Output";
  parameter Real band(min = 1e-12) = 0.1 "Change that is let through";
  parameter Real y0 = 0 "Start value";
protected
  discrete Real held(start = y0, fixed = true) "Held value";
equation
  when {u > pre(held) + band, u < pre(held) - band} then
    held = u;
  end when;
  y = held;
  annotation(__AnchorBend(group = "Limits and friction", title = "Send on change", symbol = "stairs", keywords = "dead band send on delta change event report", width = 64, help = "Holds its output until the input has moved by more than the band, as a sensor that sends on change.", validity = "Exact."));
end Slip;
