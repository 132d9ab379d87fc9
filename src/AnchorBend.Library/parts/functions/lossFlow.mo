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
  Real forth;
  Real back;
  Real d;
algorithm
  s := sqrt(dp * dp + small * small);
  forth := noEvent(max(dp, 0)) / s;
  back := noEvent(max(-dp, 0)) / s;
  // Only the side of the denser fluid is smoothed: so the flow grows with the pressure difference however much the densities differ.
  d := min(da, db) + max(da - db, 0) * forth * forth + max(db - da, 0) * back * back;
  m := area * sqrt(2 * d / zeta) * dp / sqrt(s);
end lossFlow;
