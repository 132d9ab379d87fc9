block SampledFilter "Weighted sum of past samples"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real b[:] = {0.25, 0.5, 0.25} "Weights, newest first";
protected
  parameter Integer n = size(b, 1);
  discrete Real w[n](each start = 0) "Samples, newest first";
equation
  when sample(0, T) then
    w[1] = u;
    for i in 2:n loop
      w[i] = pre(w[i - 1]);
    end for;
    y = b * w;
  end when;
  annotation(__AnchorBend(group = "Sampled", title = "Finite filter", face = "\\sum b_i z^{-i}", keywords = "FIR filter finite impulse response weights", width = 96, help = "A filter of finite memory; before the start the samples are zero.", validity = "Exact at its samples; before the start there were zeros."));
end SampledFilter;
