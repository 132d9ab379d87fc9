block MedianVote "Median of three signals"
  input Real u1 "First";
  input Real u2 "Second";
  input Real u3 "Third";
  output Real y "Median";
  output Boolean differ "One is farther off than allowed";
  parameter Real tolerance(min = 0) = 0.1 "Difference allowed";
equation
  y = max(min(u1, u2), min(max(u1, u2), u3));
  differ = max(max(u1, u2), u3) - min(min(u1, u2), u3) > tolerance;
  annotation(__AnchorBend(group = "Logic", symbol = "vote", keywords = "median vote three sensors redundancy fault", width = 80, height = 64, help = "One wrong sensor of three does no harm.", validity = "Exact; masks one faulty input of three."));
end MedianVote;
