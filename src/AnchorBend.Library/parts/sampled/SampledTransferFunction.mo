block SampledTransferFunction "Sampled transfer function"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real b[:] = {0.1} "Numerator, highest power of z first";
  parameter Real a[:] = {1, -0.9} "Denominator, highest power of z first; at least as long";
protected
  parameter Integer n = size(a, 1) - 1;
  parameter Integer m = size(b, 1);
  parameter Real c[n + 1] = {if i > n + 1 - m then b[max(1, i - (n + 1 - m))] else 0 for i in 1:n + 1} "Numerator at full length";
  discrete Real w[n + 1](each start = 0) "Shift register, newest first";
equation
  when sample(0, T) then
    w[1] = (u - sum({a[i + 1] * pre(w[i]) for i in 1:n})) / a[1];
    for i in 2:n + 1 loop
      w[i] = pre(w[i - 1]);
    end for;
    y = c * w;
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "\\frac{<<b(z)>>}{<<a(z)>>}", keywords = "discrete transfer function filter IIR z difference equation", width = 80, help = "The difference equation in direct form with one shift register.", validity = "Exact at its samples; the numerator is of no higher order than the denominator."));
end SampledTransferFunction;
