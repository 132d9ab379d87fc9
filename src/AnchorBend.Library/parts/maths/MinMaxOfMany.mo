block MinMaxOfMany "Smallest and largest of many signals"
  parameter Integer n(min = 1, max = 50) = 3 "Number of inputs";
  input Real u[n] "Inputs";
  output Real largest "Largest";
  output Real smallest "Smallest";
equation
  largest = max(u);
  smallest = min(u);
  annotation(__AnchorBend(group = "Maths", title = "Largest and smallest", face = "\\max,\\;\\min", keywords = "minimum maximum extremum many", width = 80, help = "Of any number of signals.", validity = "Exact; slopes jump where inputs cross."));
end MinMaxOfMany;
