partial model Spool "Spool that follows a signal"
  input Real u(unit = "1") "Command, −1 to 1";
  parameter Real area(unit = "m2", displayUnit = "mm2", min = 0) = 1e-5 "Opening of an edge at full stroke";
  parameter Real overlap(unit = "1", min = -0.5, max = 0.5) = 0 "Overlap of the edges as a share of the stroke; negative for underlap";
  parameter Real leak(unit = "1", min = 0) = 1e-4 "Share that stays open when closed";
  parameter Real f(unit = "Hz", min = 1e-3) = 40 "Natural frequency of the spool";
  parameter Real D(unit = "1", min = 0.01) = 0.8 "Damping of the spool";
  parameter Real cd(unit = "1", min = 0.01, max = 1) = 0.7 "Discharge coefficient";
protected
  parameter Real w0 = 2 * 3.141592653589793 * f;
  Real x(unit = "1", start = 0, fixed = true) "Stroke, −1 to 1";
  Real v(unit = "1/s", start = 0, fixed = true) "Speed of the stroke";
  Real plus(unit = "m2", displayUnit = "mm2") "Opening of the edges for a positive stroke";
  Real minus(unit = "m2", displayUnit = "mm2") "Opening of the edges for a negative stroke";
equation
  der(x) = v;
  der(v) = w0 ^ 2 * (noEvent(max(-1, min(1, u))) - x) - 2 * D * w0 * v;
  plus = area * (leak + noEvent(max(0, min(1, x - overlap))));
  minus = area * (leak + noEvent(max(0, min(1, -x - overlap))));
end Spool;
