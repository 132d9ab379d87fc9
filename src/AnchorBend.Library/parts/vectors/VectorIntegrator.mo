block VectorIntegrator "Integral of each element"
  parameter Integer n(min = 1, max = 50) = 3 "Length";
  parameter Real k = 1 "Gain";
  parameter Real y0[n] = zeros(n) "Start values";
  input Real u[n] "Rates" annotation(__AnchorBend(vector = true));
  output Real y[n](start = y0) "Integrals" annotation(__AnchorBend(vector = true));
equation
  der(y) = k * u;
  annotation(__AnchorBend(group = "Vectors", face = "\\frac{k}{s}", keywords = "vector integrator state accumulate position", width = 64, help = "One state for each element.", validity = "Exact; constant inputs grow without limit."));
end VectorIntegrator;
