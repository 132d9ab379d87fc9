function orificeFlow "Flow through an orifice, laminar to turbulent without a corner"
  input Real dp "Pressure difference in Pa";
  input Real area "Opening in m2";
  input Real cd "Discharge coefficient in turbulent flow";
  input Real rho "Density in kg/m3";
  input Real nu "Kinematic viscosity in m2/s";
  input Real critical "Reynolds number at which the flow becomes turbulent";
  output Real q "Flow in m3/s";
protected
  Real diameter;
  Real change;
algorithm
  diameter := sqrt(4 * (area + 1e-12) / 3.141592653589793);
  change := 0.5 * rho * (critical * nu / (cd * diameter)) ^ 2;
  q := cd * area * sqrt(2 / rho) * dp / (dp ^ 2 + change ^ 2) ^ 0.25;
end orificeFlow;
