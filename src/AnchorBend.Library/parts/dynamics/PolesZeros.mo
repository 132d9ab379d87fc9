block PolesZeros "Zeros, poles and gain"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
  parameter Real zeros_[:](each unit = "1/s") = {-1} "Real zeros";
  parameter Real zeroPairs[:, 2](each unit = "1/s") = zeros(0, 2) "Pairs of zeros: real and imaginary part of one of each";
  parameter Real poles[:](each unit = "1/s") = {-2, -5} "Real poles";
  parameter Real polePairs[:, 2](each unit = "1/s") = zeros(0, 2) "Pairs of poles: real and imaginary part of one of each";
protected
  parameter Integer order = size(poles, 1) + 2 * size(polePairs, 1);
  parameter Integer m = size(zeros_, 1) + 2 * size(zeroPairs, 1);
  parameter Integer n = div(order, 2) "Sections of second order";
  parameter Integer odd = mod(order, 2) "Sections of first order";
  parameter Real a[n + odd, 3] = rootFactors(poles, polePairs, n + odd);
  parameter Real b[n + odd, 3] = rootFactors(zeros_, zeroPairs, n + odd);
  Real x[n](each start = 0) "States";
  Real v[n](each start = 0) "Their rates";
  Real e[n] "Highest derivatives";
  Real z[odd](each start = 0) "State of the odd pole";
  Real part[n + odd + 1] "Signal between the sections";
equation
  assert(m <= order, "There are more zeros than poles.");
  part[1] = u;
  for i in 1:n loop
    der(x[i]) = v[i];
    der(v[i]) = e[i];
    e[i] = part[i] - a[i, 2] * v[i] - a[i, 3] * x[i];
    part[i + 1] = b[i, 1] * e[i] + b[i, 2] * v[i] + b[i, 3] * x[i];
  end for;
  for i in 1:odd loop
    der(z[i]) = part[n + i] - a[n + i, 3] * z[i];
    part[n + i + 1] = b[n + i, 2] * (part[n + i] - a[n + i, 3] * z[i]) + b[n + i, 3] * z[i];
  end for;
  y = k * part[n + odd + 1];
  annotation(__AnchorBend(group = "Dynamics", face = "k\\,\\frac{\\prod(s-z_i)}{\\prod(s-p_i)}", keywords = "zero pole gain zpk transfer function", width = 112, help = "A chain of sections of second order, with one of first order for an odd pole. Complex zeros and poles are given as {{real part, imaginary part}}, one of each pair.", validity = "No more zeros than poles; complex ones come in pairs, each given once."));
end PolesZeros;
