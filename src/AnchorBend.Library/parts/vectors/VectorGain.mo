block VectorGain "A gain for each element"
  parameter Real k[:] = {1, 1, 1} "Gains";
  input Real u[size(k, 1)] "Vector" annotation(__AnchorBend(vector = true));
  output Real y[size(k, 1)] "Vector" annotation(__AnchorBend(vector = true));
equation
  for i in 1:size(k, 1) loop
    y[i] = k[i] * u[i];
  end for;
  annotation(__AnchorBend(group = "Vectors", face = "k_i u_i", keywords = "vector gain scale elements weights", width = 64, help = "As long as the list of gains. A full matrix of gains is another part.", validity = "The length must be that of what comes in."));
end VectorGain;
