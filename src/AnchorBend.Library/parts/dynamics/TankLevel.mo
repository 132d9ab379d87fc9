block TankLevel "Level of a tank with free outflow"
  input Real u(unit = "m3/s") "Inflow";
  output Real y(unit = "m") "Level";
  output Real q(unit = "m3/s") "Outflow";
  parameter Real A(unit = "m2", min = 1e-9) = 1 "Area of the tank";
  parameter Real a(unit = "m2", min = 0) = 1e-3 "Area of the outlet";
  parameter Real h0(unit = "m", min = 0) = 0.5 "Start level";
protected
  constant Real g(unit = "m/s2") = 9.80665;
  Real h(unit = "m", start = h0) "Level";
equation
  q = a * sqrt(2 * g * noEvent(max(0, h)));
  A * der(h) = u - q;
  y = h;
  annotation(__AnchorBend(group = "Dynamics", face = "\\dot h = \\tfrac{u - a\\sqrt{2gh}}{A}", keywords = "tank level outflow Torricelli water", width = 112, height = 64, help = "The outflow follows Torricelli's law.", validity = "A wide tank, turbulent outflow, no overflow: the level is not limited above."));
end TankLevel;
