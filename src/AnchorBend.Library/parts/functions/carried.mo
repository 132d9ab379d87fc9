function carried "What a flow carries: of the first side where it is positive, of the second where it is negative, smooth about zero"
  input Real m "Flow in kg/s";
  input Real a "Of the first side";
  input Real b "Of the second side";
  output Real y "What is carried";
algorithm
  y := b + carriedShare(m) * (a - b);
end carried;
