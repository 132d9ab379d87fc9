block Polynomial "Polynomial of the input"
  input Real u "Input";
  output Real y "Output";
  parameter Real c[:] = {1, 0, 0} "Coefficients, highest power first";
protected
  Real part[size(c, 1)] "Horner's scheme";
equation
  part[1] = c[1];
  for i in 2:size(c, 1) loop
    part[i] = part[i - 1] * u + c[i];
  end for;
  y = part[size(c, 1)];
  annotation(__AnchorBend(group = "Maths", face = "\\sum c_i u^{n-i}", keywords = "polynomial characteristic Horner", width = 80, help = "Evaluates a polynomial by Horner's scheme.", validity = "Exact; far from zero high powers grow quickly."));
end Polynomial;
