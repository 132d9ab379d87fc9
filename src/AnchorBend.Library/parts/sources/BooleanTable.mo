block BooleanTable "Condition that changes at given times"
  output Boolean y "Output";
  parameter Real t[:](each unit = "s") = {1, 2} "Times of change, rising";
  parameter Boolean first = false "Value before the first";
equation
  y = if mod(sum({if time >= t[i] then 1 else 0 for i in 1:size(t, 1)}), 2) == 1 then not first else first;
  annotation(__AnchorBend(group = "Sources", symbol = "pulse", keywords = "boolean table schedule condition times", width = 64, help = "Changes at each of the times.", validity = "Exact edges; times rise."));
end BooleanTable;
