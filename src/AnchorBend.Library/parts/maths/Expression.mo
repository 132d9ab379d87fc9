block Expression "Any formula of the inputs"
  parameter Integer n(min = 1, max = 20) = 1 "Number of inputs";
  input Real u[n] "Inputs u[1], u[2], …";
  output Real y = u[1] "Formula" annotation(__AnchorBend(formula = true));
  annotation(__AnchorBend(group = "Maths", face = "<<y>>", keywords = "formula function custom calculate", width = 112,
    help = "Computes a formula typed in the equation language, such as u[1]*sin(time) or if u[1] > 0 then u[2] else 0.", validity = "As far as the formula goes: roots of negative numbers and divisions by zero stop the run."));
end Expression;
