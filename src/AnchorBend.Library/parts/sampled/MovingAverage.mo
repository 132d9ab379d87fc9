block MovingAverage "Mean of the last samples"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Integer n(min = 1, max = 1000) = 5 "Number of samples";
protected
  discrete Real w[n](each start = 0) "Samples, newest first";
  discrete Real count(start = 0) "Samples taken, up to n";
equation
  when sample(0, T) then
    w[1] = u;
    for i in 2:n loop
      w[i] = pre(w[i - 1]);
    end for;
    count = min(n, pre(count) + 1);
    y = sum(w) / count;
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "\\tfrac1{<<n>>}\\sum z^{-i}", keywords = "moving average mean smoothing window", width = 80, help = "At the start it takes the mean of the samples there are.", validity = "Exact at its samples; before the start there were first values."));
end MovingAverage;
