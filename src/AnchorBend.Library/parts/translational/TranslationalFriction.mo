model TranslationalFriction "Dry friction that sticks and slips"
  extends BetweenFlanges;
  parameter Real fc(unit = "N", min = 1e-9) = 10 "Sliding force";
  parameter Real fs(unit = "N", min = fc) = 12 "Breakaway force";
  parameter Real vs(unit = "m/s", min = 1e-9) = 1e-3 "Speed at which the force falls from breakaway to sliding";
  parameter Real d(unit = "N.s/m", min = 0) = 0 "Viscous friction";
  parameter Real s0(unit = "N/m", min = 1e-3) = 1e6 "Stiffness while sticking";
  parameter Real d0(unit = "N.s/m", min = 0) = 2e3 "Damping while sticking";
  parameter Boolean heatPort = false "Show a heat port for the lost power";
  ThermalPort heat if heatPort "Heat of the lost power" annotation(__AnchorBend(side = "bottom", optional = "heatPort"));
protected
  Real v(unit = "m/s") "Speed of sliding";
  Real z(unit = "m", start = 0, fixed = true, nominal = 1e-5) "Deflection of the contact";
  Real g(unit = "N") "Force at steady sliding";
equation
  v = der(length);
  g = fc + (fs - fc) * exp(-(v / vs) ^ 2);
  der(z) = v - s0 * noEvent(abs(v)) / g * z;
  f = s0 * z + d0 * exp(-(v / vs) ^ 2) * der(z) + d * v;
  if heatPort then
    heat.Q = -f * v;
  end if;
  annotation(__AnchorBend(group = "Translational", title = "Friction (translational)", symbol = "friction", keywords = "dry friction Coulomb Stribeck stiction stick slip", help = "The contact deflects like bristles until it breaks away, then slides (Canudas de Wit, Olsson, Åström and Lischinsky, IEEE Transactions on Automatic Control 40, 1995). Sticking is elastic with the stiffness given; very high stiffness makes stiff models.", validity = "Bristle friction: sticking holds but for the bristles’ give and a slow creep near breakaway."));
end TranslationalFriction;
