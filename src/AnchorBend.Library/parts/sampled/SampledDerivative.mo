block SampledDerivative "Difference of samples"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real k = 1 "Gain";
protected
  discrete Real last(start = 0) "Last input";
equation
  when sample(0, T) then
    last = u;
    y = if initial() then 0 else k * (u - pre(last)) / T;
  end when;
  annotation(__AnchorBend(group = "Sampled", title = "Sampled derivative", face = "k\\,\\frac{z-1}{Tz}", keywords = "discrete derivative difference rate", width = 80, help = "Change since the last sample over the sample time; 0 at the first one.", validity = "Acts at its samples; noise between two samples is amplified by one over the sample time."));
end SampledDerivative;
