block ZeroPoleGain "Zeros, poles and gain"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real zeros_[:](each unit = "1/s") = {-1} "Real zeros";
  parameter Real poles[:](each unit = "1/s") = {-2, -5} "Real poles, at least as many";
protected
  parameter Integer n = size(poles, 1);
  parameter Integer m = size(zeros_, 1);
  Real x[n](each start = 0) "State of each pole";
  Real part[n + 1] "Signal between the sections";
equation
  part[1] = u;
  for i in 1:n loop
    der(x[i]) = part[i] + poles[i] * x[i];
    part[i + 1] = if i <= m then part[i] + (poles[i] - zeros_[min(i, max(m, 1))]) * x[i] else x[i];
  end for;
  y = k * part[n + 1];
  annotation(__AnchorBend(group = "Dynamics", face = "k\\,\\frac{\\prod(s-z_i)}{\\prod(s-p_i)}", keywords = "zero pole gain zpk transfer function", width = 112, help = "A chain of first-order sections with real zeros and poles; complex pairs go into second-order sections."));
end ZeroPoleGain;
