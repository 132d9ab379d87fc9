block Product "Multiplies and divides signals"
  parameter Real powers[:](each unit = "1") = {1, 1} "1 multiplies, -1 divides, for each input";
  input Real u[size(powers, 1)] "Inputs";
  output Real y "Result";
equation
  y = product({if powers[i] >= 0 then u[i] else 1 / u[i] for i in 1:size(powers, 1)});
  annotation(__AnchorBend(terms = "powers", termStyle = "factor", group = "Maths", shape = "circle", face = "\\times", keywords = "multiply divide quotient * /", width = 32, height = 32,
    help = "Multiplies its inputs; one with power −1 is a divisor. A divisor that becomes zero stops the run with a message.", validity = "Divisors are not zero; the run stops there and says so."));
end Product;
