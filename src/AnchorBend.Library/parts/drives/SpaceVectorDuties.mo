block SpaceVectorDuties "Shares of time for a space vector"
  input Real u[3](each unit = "V") "Voltages wanted of phases a, b, c" annotation(__AnchorBend(vector = true));
  input Real vdc(unit = "V") "Voltage between the rails" annotation(__AnchorBend(side = "bottom"));
  output Real duty[3] "Shares of time at the positive rail" annotation(__AnchorBend(vector = true));
  output Boolean limited "More is wanted than there is" annotation(__AnchorBend(side = "bottom"));
protected
  Real middle(unit = "V") "Middle between the highest and the lowest phase";
  Real rail(unit = "V") "Voltage between the rails, above zero";
  Real d[3] "Shares before the limits";
equation
  middle = (max(max(u[1], u[2]), u[3]) + min(min(u[1], u[2]), u[3])) / 2;
  rail = max(vdc, 1e-6);
  for j in 1:3 loop
    d[j] = 0.5 + (u[j] - middle) / rail;
    duty[j] = max(0, min(1, d[j]));
  end for;
  limited = max(max(d[1], d[2]), d[3]) > 1;
  annotation(__AnchorBend(group = "Drives", face = "\\vec u \\to d_{abc}", keywords = "space vector modulation SVM duty third harmonic inverter", width = 80, height = 64, help = "Adds to all phases what puts the highest and the lowest the same way from the middle of the rails; that is space vector modulation (D. G. Holmes, T. A. Lipo, Pulse Width Modulation for Power Converters, 2003). Between phases nothing changes, and 15 % more voltage can be had than with shares about one half.", validity = "Voltages up to the rail voltage over the square root of 3; beyond, shares are cut."));
end SpaceVectorDuties;
