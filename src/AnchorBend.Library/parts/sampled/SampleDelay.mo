block SampleDelay "Delay of whole samples"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Integer n(min = 1, max = 1000) = 1 "Number of samples";
  parameter Real y0 = 0 "Output before";
protected
  discrete Real x[n](each start = y0) "Past samples, newest first";
equation
  when sample(0, T) then
    x[1] = u;
    for i in 2:n loop
      x[i] = pre(x[i - 1]);
    end for;
    y = pre(x[n]);
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "z^{-<<n>>}", keywords = "unit delay sample z-1 memory", width = 64, help = "The sample of n sample times ago.", validity = "Exact at its samples."));
end SampleDelay;
