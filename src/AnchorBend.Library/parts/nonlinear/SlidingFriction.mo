block SlidingFriction "Coulomb and viscous friction as a function of speed"
  input Real u "Speed";
  output Real y "Friction force";
  parameter Real fc(min = 0) = 1 "Coulomb part";
  parameter Real d(min = 0) = 0.1 "Viscous part";
  parameter Real small(min = 1e-12) = 1e-3 "Speed within which the Coulomb part is smoothed";
equation
  y = fc * tanh(u / small) + d * u;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "coulomb", keywords = "friction Coulomb viscous dry", width = 64, help = "The sign is smoothed over a small speed. For true sticking use the friction parts of the mechanical domains.", validity = "Force over speed, for a speed that passes through zero quickly; for parts that stick use dry friction, which holds them."));
end SlidingFriction;
