block SecondOrderSections "Chain of second-order sections"
  input Real u "Input";
  output Real y "Output";
  parameter Real sections[:, 6] = {{0, 0, 1, 1, 1.4, 1}} "A row for each section: b2, b1, b0, a2, a1, a0 (with a2 not 0)";
protected
  parameter Integer n = size(sections, 1);
  Real x1[n](each start = 0) "States";
  Real x2[n](each start = 0) "States";
  Real e[n] "Highest derivative of each section";
  Real part[n + 1] "Signal between the sections";
equation
  part[1] = u;
  for i in 1:n loop
    der(x1[i]) = x2[i];
    der(x2[i]) = e[i];
    sections[i, 4] * e[i] = part[i] - sections[i, 5] * x2[i] - sections[i, 6] * x1[i];
    part[i + 1] = sections[i, 1] * e[i] + sections[i, 2] * x2[i] + sections[i, 3] * x1[i];
  end for;
  y = part[n + 1];
  annotation(__AnchorBend(group = "Dynamics", face = "\\prod \\tfrac{b_2s^2+b_1s+b_0}{a_2s^2+a_1s+a_0}", keywords = "second order sections cascade biquad chain", width = 128, help = "The well-conditioned way to write filters of high order.", validity = "Exact; keeps its accuracy at high orders, where one ratio of long polynomials loses it."));
end SecondOrderSections;
