model HeatCapacity "Body that stores heat"
  ThermalPort a "Surface" annotation(__AnchorBend(side = "bottom"));
  parameter Real C(unit = "J/K", min = 1e-9) = 1000 "Heat capacity";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 0) = 293.15 "Start temperature";
  parameter Boolean hold = true "The start temperature must hold (otherwise it is a guess)";
protected
  Real T(unit = "K", displayUnit = "degC", start = T0, fixed = hold, nominal = 300) "Temperature";
equation
  a.T = T;
  C * der(T) = a.Q;
  annotation(__AnchorBend(group = "Thermal", symbol = "capacity", keywords = "thermal mass heat capacity store body tank", width = 64, help = "One temperature throughout. Mass times specific heat gives the capacity.", validity = "One temperature throughout: the resistance within is small against that outside (Biot number below 0.1)."));
end HeatCapacity;
