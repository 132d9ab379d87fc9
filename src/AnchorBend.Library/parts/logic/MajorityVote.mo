block MajorityVote "Vote of many conditions"
  parameter Integer n(min = 1, max = 20) = 3 "Number of inputs";
  parameter Integer needed(min = 1, max = n) = 2 "How many must be true";
  input Boolean u[n] "Inputs";
  output Boolean y "Output";
  output Boolean differ "Not all agree";
protected
  Integer count "How many are true";
equation
  count = sum({if u[i] then 1 else 0 for i in 1:n});
  y = count >= needed;
  differ = count > 0 and count < n;
  annotation(__AnchorBend(group = "Logic", symbol = "vote", keywords = "majority vote two out of three redundancy", width = 64, help = "Two out of three and the like; tells also when the inputs disagree.", validity = "Exact; an odd number of inputs leaves no tie."));
end MajorityVote;
