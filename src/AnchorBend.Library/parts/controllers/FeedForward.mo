block FeedForward "Feed-forward of value and rate"
  input Real u "Planned value";
  output Real y "Feed-forward";
  parameter Real k0 = 1 "Gain of the value";
  parameter Real k1 = 0 "Gain of the rate";
  parameter Real T(unit = "s", min = 1e-9) = 0.01 "Time constant of the rate";
protected
  Real x(start = 0) "Filtered value";
initial equation
  x = u;
equation
  T * der(x) = u - x;
  y = k0 * u + k1 * (u - x) / T;
  annotation(__AnchorBend(group = "Controllers", title = "Feed-forward", face = "k_0+\\tfrac{k_1s}{Ts+1}", keywords = "feed forward feedforward rate inverse", width = 96, help = "What the plan needs before any error shows.", validity = "The rate is that of a filter: set-points that change faster than its time constant are followed smoothed."));
end FeedForward;
