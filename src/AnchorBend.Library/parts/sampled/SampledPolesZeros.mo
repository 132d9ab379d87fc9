block SampledPolesZeros "Sampled zeros, poles and gain"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real k = 1 "Gain";
  parameter Real zeros_[:] = fill(0.0, 0) "Real zeros in z";
  parameter Real zeroPairs[:, 2] = zeros(0, 2) "Pairs of zeros in z: real and imaginary part of one of each";
  parameter Real poles[:] = {0.5} "Real poles in z";
  parameter Real polePairs[:, 2] = zeros(0, 2) "Pairs of poles in z: real and imaginary part of one of each";
protected
  parameter Integer order = size(poles, 1) + 2 * size(polePairs, 1);
  parameter Integer m = size(zeros_, 1) + 2 * size(zeroPairs, 1);
  parameter Integer n = div(order + 1, 2) "Sections";
  parameter Real a[n, 3] = rootFactors(poles, polePairs, n);
  parameter Real b[n, 3] = rootFactors(zeros_, zeroPairs, n);
  discrete Real w[n](each start = 0) "Signal inside each section";
  discrete Real w1[n](each start = 0) "The same one sample ago";
  discrete Real w2[n](each start = 0) "The same two samples ago";
  discrete Real part[n + 1](each start = 0) "Signal between the sections";
equation
  assert(m <= order, "There are more zeros than poles.");
  when sample(0, T) then
    part[1] = u;
    for i in 1:n loop
      w1[i] = pre(w[i]);
      w2[i] = pre(w1[i]);
      w[i] = if a[i, 1] > 0 then part[i] - a[i, 2] * w1[i] - a[i, 3] * w2[i] else part[i] - a[i, 3] * w1[i];
      part[i + 1] = if a[i, 1] > 0 then b[i, 1] * w[i] + b[i, 2] * w1[i] + b[i, 3] * w2[i] else b[i, 2] * w[i] + b[i, 3] * w1[i];
    end for;
    y = k * part[n + 1];
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "k\\,\\frac{\\prod(z-z_i)}{\\prod(z-p_i)}", keywords = "discrete zero pole gain zpk z sampled", width = 112, help = "A chain of sections of second order at sample times. Zeros and poles are those in z; complex ones are given as {{real part, imaginary part}}, one of each pair.", validity = "No more zeros than poles; poles outside the unit circle grow without limit."));
end SampledPolesZeros;
