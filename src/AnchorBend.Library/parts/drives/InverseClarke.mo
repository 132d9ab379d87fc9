block InverseClarke "Resting frame into three phases"
  type Scaling = enumeration(amplitude "Amplitudes stay", power "Power stays");
  parameter Scaling scaling = Scaling.amplitude "What stays as it is";
  input Real u[3] "Components α, β and zero" annotation(__AnchorBend(vector = true));
  output Real y[3] "Phases a, b, c" annotation(__AnchorBend(vector = true));
protected
  parameter Real k = if scaling == Scaling.power then sqrt(2 / 3) else 1 "Factor of α and β";
  parameter Real k0 = if scaling == Scaling.power then sqrt(1 / 3) else 1 "Factor of the zero component";
equation
  y[1] = k * u[1] + k0 * u[3];
  y[2] = k * (-u[1] / 2 + sqrt(3) / 2 * u[2]) + k0 * u[3];
  y[3] = k * (-u[1] / 2 - sqrt(3) / 2 * u[2]) + k0 * u[3];
  annotation(__AnchorBend(choiceWords = true, group = "Drives", face = "\\alpha\\beta \\to abc", keywords = "inverse Clarke transform three-phase alpha beta frame", width = 80, help = "The three phases that a space vector and a zero component stand for; the inverse of the transform with the same scaling.", validity = "Exact at every instant."));
end InverseClarke;
