block TransferFunction "Ratio of two polynomials in s"
  input Real u "Input";
  output Real y "Output";
  parameter Real b[:] = {1} "Numerator coefficients, highest power first";
  parameter Real a[:] = {1, 1} "Denominator coefficients, highest power first";
protected
  parameter Integer excess(max = 0) = size(b, 1) - size(a, 1) "Degree of the numerator above the denominator's";
  parameter Integer n = size(a, 1) - 1 "Order";
  parameter Real bb[n + 1] = {if i <= n + 1 - size(b, 1) then 0 else b[max(1, i - (n + 1 - size(b, 1)))] for i in 1:n + 1} "Numerator, filled up with zeros";
  Real x[n] "States in controller canonical form";
  Real w "Highest derivative of the inner variable";
equation
  a[1] * w = u - (if n > 0 then a[2:n + 1] * x else 0);
  for i in 1:n loop
    der(x[i]) = if i == 1 then w else x[max(1, i - 1)];
  end for;
  y = bb[1] * w + (if n > 0 then bb[2:n + 1] * x else 0);
  annotation(__AnchorBend(group = "Dynamics", face = "\\frac{<<b(s)>>}{<<a(s)>>}", keywords = "polynomial rational numerator denominator linear system filter", width = 96,
    help = "Any proper transfer function; equal degrees are allowed. Coefficients are given with the highest power first: {1, 3, 2} is s² + 3s + 2. The states start at zero.", validity = "The numerator is of no higher order than the denominator; above order ten or so use sections or state space, whose numbers stay well scaled."));
end TransferFunction;
