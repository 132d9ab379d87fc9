block FilteredDerivative "Rate of change, smoothed"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real T(unit = "s", min = 1e-9) = 0.01 "Filter time constant";
  parameter Real u0 = 0 "Input value the filter starts from";
protected
  Real x(start = u0);
equation
  T * der(x) = u - x;
  y = k * (u - x) / T;
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<k>> s}{<<T>> s + 1}", keywords = "differentiate rate speed DT1 high pass", width = 96,
    help = "Approximates the derivative of the input up to the frequency 1/T. A smaller T is nearer to the true derivative and lets more noise through.", validity = "Follows the rate of signals slow against its time constant; a jump gives a peak of height over time constant."));
end FilteredDerivative;
