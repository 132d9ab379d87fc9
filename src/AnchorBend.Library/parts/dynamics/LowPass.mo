block LowPass "Butterworth low-pass"
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
    part[i + 1] = x[2 * i - 1];
  end for;
  if n > 2 * pairs then
    der(x[n]) = w * (part[pairs + 1] - x[n]);
    y = x[n];
  else
    y = part[pairs + 1];
  end if;
  annotation(__AnchorBend(group = "Dynamics", title = "Low-pass filter", face = "\\text{low-pass}", keywords = "low pass Butterworth filter order corner noise", width = 80, help = "Maximally flat: 3 dB down at the corner frequency, then 20 dB a decade for each order (Butterworth, Experimental Wireless 7, 1930).", validity = "Exact for the orders offered; the phase shift belongs to it."));
end LowPass;
