model Radiation "Heat radiation between two surfaces"
  extends BetweenSurfaces;
  parameter Real G(unit = "m2", min = 0) = 1 "Net radiation conductance: emissivity times area times view";
protected
  constant Real sigma(unit = "W/(m2.K4)") = 5.670374419e-8;
equation
  Q = sigma * G * (a.T ^ 4 - b.T ^ 4);
  annotation(__AnchorBend(group = "Thermal", symbol = "radiation", keywords = "radiation emissivity Stefan Boltzmann sky sun", help = "Proportional to the difference of the fourth powers of the temperatures, by the law of Stefan and Boltzmann.", validity = "Grey surfaces that see only each other; temperatures in kelvin above zero."));
end Radiation;
