block Sum "Adds signals with signs"
  parameter Real signs[:](each unit = "1") = {1, -1} "Sign (or factor) of each input";
  input Real u[size(signs, 1)] "Inputs";
  output Real y "Sum";
equation
  y = signs * u;
  annotation(__AnchorBend(terms = "signs", termStyle = "sign", group = "Maths", shape = "circle", face = "\\Sigma", keywords = "add subtract difference error summing point + -", width = 32, height = 32,
    help = "Adds any number of inputs, each with its sign. Set the signs on the part itself or in the inspector, as in {1, -1, 1}.", validity = "Exact for all values."));
end Sum;
