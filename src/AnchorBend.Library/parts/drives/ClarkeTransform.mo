block ClarkeTransform "Three phases into the resting frame"
  type Scaling = enumeration(amplitude "Amplitudes stay", power "Power stays");
  parameter Scaling scaling = Scaling.amplitude "What stays as it is";
  input Real u[3] "Phases a, b, c" annotation(__AnchorBend(vector = true));
  output Real y[3] "Components α, β and zero" annotation(__AnchorBend(vector = true));
protected
  parameter Real k = if scaling == Scaling.power then sqrt(2 / 3) else 2 / 3 "Factor of α and β";
  parameter Real k0 = if scaling == Scaling.power then sqrt(1 / 3) else 1 / 3 "Factor of the zero component";
equation
  y[1] = k * (u[1] - (u[2] + u[3]) / 2);
  y[2] = k * sqrt(3) / 2 * (u[2] - u[3]);
  y[3] = k0 * (u[1] + u[2] + u[3]);
  annotation(__AnchorBend(choiceWords = true, group = "Drives", face = "abc \\to \\alpha\\beta", keywords = "Clarke transform three-phase space vector alpha beta frame", width = 80, help = "The space vector of three phases by its two components, and their mean (E. Clarke, Circuit Analysis of A-C Power Systems, 1943). With amplitudes that stay, a balanced set of amplitude A becomes a vector of length A; with power that stays, products of voltage and current keep their sum.", validity = "Exact at every instant; the zero component is zero where the phases add up to nothing."));
end ClarkeTransform;
