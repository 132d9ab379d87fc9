block Divide "Quotient of two signals"
  input Real u1 "Dividend";
  input Real u2 "Divisor";
  output Real y "Quotient";
  parameter Real smallest(min = 0) = 0 "Smallest magnitude of the divisor; 0 for none";
protected
  Real safe "Divisor, kept from zero";
equation
  safe = if smallest > 0 then noEvent(if u2 >= 0 then max(u2, smallest) else min(u2, -smallest)) else u2;
  y = u1 / safe;
  annotation(__AnchorBend(group = "Maths", face = "\\frac{u_1}{u_2}", keywords = "divide quotient ratio /", width = 64, help = "Divides; a smallest magnitude of the divisor keeps the result finite.", validity = "The divisor is not zero; the run stops there and says so."));
end Divide;
