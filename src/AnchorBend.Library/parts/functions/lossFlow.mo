function lossFlow "Mass flow through a narrow place, smooth about zero"
  input Real dp "Pressure difference in Pa";
  input Real area "Opening in m2";
  input Real zeta "Loss factor";
  input Real da "Density in kg/m3 of what comes from the first side";
  input Real db "Density in kg/m3 of what comes from the second side";
  input Real small "Pressure difference in Pa below which it is laminar";
  output Real m "Mass flow in kg/s";
protected
  Real s;
algorithm
  s := sqrt(dp * dp + small * small);
  m := area * sqrt(2 * lossDensity(da, db, dp / small) / zeta) * dp / sqrt(s);
end lossFlow;
