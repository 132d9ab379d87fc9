function effectiveModulus "Bulk modulus of a fluid with trapped gas"
  input Real p "Absolute pressure in Pa";
  input Real K "Bulk modulus of the fluid in Pa";
  input Real gas "Share of gas by volume at 1 bar";
  output Real e "Modulus in Pa";
protected
  Real r;
  Real present;
algorithm
  r := noEvent(max(p, 1e3));
  present := gas * (1e5 / r) ^ (1 / 1.4);
  e := (1 + present) / (1 / K + present / (1.4 * r));
end effectiveModulus;
