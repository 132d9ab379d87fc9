model Diode "Diode with knee voltage"
  extends BetweenTerminals;
  parameter Real Vknee(unit = "V", min = 0) = 0.7 "Knee voltage";
  parameter Real Ron(unit = "Ohm", min = 1e-9) = 1e-3 "Resistance while it conducts";
  parameter Real Goff(unit = "S", min = 1e-15) = 1e-8 "Conductance while it blocks";
protected
  parameter Real Gunit(unit = "S") = 1 "Unit conductance";
  Real x(unit = "A") "Place on the curve, negative while it blocks";
  Boolean conducts;
equation
  conducts = x > 0;
  v = Vknee + (if conducts then x * Ron else x / Gunit);
  i = Goff * Vknee + (if conducts then x else x * Goff / Gunit);
  annotation(__AnchorBend(group = "Electrical", symbol = "diode", keywords = "diode rectifier freewheel semiconductor", help = "Two straight lines that meet at the knee. The change between blocking and conducting is found exactly, in time and inside loops.", validity = "Straight lines about the knee, so no reverse recovery and no exponential foot; meant for power circuits."));
end Diode;
