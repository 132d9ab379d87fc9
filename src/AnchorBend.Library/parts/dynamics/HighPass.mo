block HighPass "Butterworth high-pass"
  input Real u "Input";
  output Real y "Output";
  parameter Integer n(min = 1, max = 20) = 2 "Order";
  parameter Real f(unit = "Hz", min = 1e-9) = 1 "Corner frequency";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  parameter Integer pairs = div(n, 2);
  Real x[n](each start = 0) "Filter states";
  Real part[pairs + 1] "Signal between the sections";
equation
  part[1] = u;
  for i in 1:pairs loop
    der(x[2 * i - 1]) = w * x[2 * i];
    der(x[2 * i]) = w * (part[i] - x[2 * i - 1] - 2 * sin((2 * i - 1) * 3.141592653589793 / (2 * n)) * x[2 * i]);
    part[i + 1] = part[i] - x[2 * i - 1] - 2 * sin((2 * i - 1) * 3.141592653589793 / (2 * n)) * x[2 * i];
  end for;
  if n > 2 * pairs then
    der(x[n]) = w * (part[pairs + 1] - x[n]);
    y = part[pairs + 1] - x[n];
  else
    y = part[pairs + 1];
  end if;
  annotation(__AnchorBend(group = "Dynamics", title = "High-pass filter", face = "\\text{high-pass}", keywords = "high pass Butterworth filter order corner drift", width = 80, help = "Maximally flat above the corner frequency, where it is 3 dB down.", validity = "Exact for the orders offered; the phase shift belongs to it."));
end HighPass;
