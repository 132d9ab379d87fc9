block SampledLag "Sampled first-order lag"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real k = 1 "Gain";
  parameter Real tau(unit = "s", min = 1e-9) = 1 "Time constant";
  parameter Real y0 = 0 "Start value";
protected
  parameter Real a = exp(-T / tau) "What is left after a sample";
  discrete Real x(start = y0) "Output";
  discrete Real last(start = 0) "Last input";
equation
  when sample(0, T) then
    last = u;
    x = if initial() then y0 else a * pre(x) + (1 - a) * k * pre(last);
    y = x;
  end when;
  annotation(__AnchorBend(group = "Sampled", title = "Sampled lag", face = "\\frac{k(1-a)}{z-a}", keywords = "discrete lag low pass exponential smoothing PT1", width = 80, help = "Exactly the continuous lag behind a hold, at the samples.", validity = "Exact for inputs that are constant between samples."));
end SampledLag;
