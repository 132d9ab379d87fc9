block ConstantVector "Vector that stays as it is"
  parameter Real k[:] = {1, 2, 3} "Elements";
  output Real y[size(k, 1)] "Vector" annotation(__AnchorBend(vector = true));
equation
  y = k;
  annotation(__AnchorBend(group = "Vectors", face = "k", keywords = "constant vector source values set-point", width = 48, height = 40, help = "As long as the list of its elements.", validity = "Exact."));
end ConstantVector;
