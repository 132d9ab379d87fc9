model Line "Line with friction and inertia"
  extends BetweenPorts;
  parameter Real l(unit = "m", min = 1e-6) = 5 "Length";
  parameter Real d(unit = "m", displayUnit = "mm", min = 1e-6) = 0.012 "Inner diameter";
  parameter Real q0(unit = "m3/s", displayUnit = "l/min") = 0 "Start flow";
  parameter Boolean hold = true "The start flow must hold (otherwise it is a guess)";
protected
  parameter Real A = 3.141592653589793 * d ^ 2 / 4;
  Real flow_(unit = "m3/s", displayUnit = "l/min", start = q0, fixed = hold, nominal = 1e-4) "Flow";
  Real Re "Reynolds number";
  Real laminar(unit = "Pa") "Laminar loss";
  Real turbulent(unit = "Pa") "Turbulent loss";
  Real share "0 laminar to 1 turbulent";
equation
  flow_ = q;
  Re = noEvent(abs(flow_)) * d / (A * a.nu);
  laminar = 128 * a.rho * a.nu * l / (3.141592653589793 * d ^ 4) * flow_;
  turbulent = 0.5 * 0.3164 * l / d * a.rho / A ^ 2 * (A * a.nu / d) ^ 0.25 * flow_ * (flow_ ^ 2 + 1e-24) ^ 0.375;
  share = 0.5 + 0.5 * tanh((Re - 2900) / 300);
  a.rho * l / A * der(flow_) = dp - (1 - share) * laminar - share * turbulent;
  annotation(__AnchorBend(group = "Hydraulic", symbol = "line", keywords = "pipe hose line friction inertia Reynolds", help = "Laminar friction by Hagen and Poiseuille, turbulent friction by Blasius, joined smoothly around a Reynolds number of 2900, and the inertia of the fluid. Compressibility stands in volumes at its ends.", validity = "One lumped inertia: below about a quarter of the lowest wave frequency of the line. Volumes at its ends add what gives way in it."));
end Line;
