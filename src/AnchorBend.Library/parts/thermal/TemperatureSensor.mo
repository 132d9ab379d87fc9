model TemperatureSensor "Temperature of a place"
  ThermalPort a "Place" annotation(__AnchorBend(side = "left"));
  parameter Real T(unit = "s", min = 0) = 0 "Time constant of the sensor; 0 for none";
  output Real y(unit = "K", displayUnit = "degC") "Temperature";
protected
  Real held(unit = "K", displayUnit = "degC", start = 293.15, nominal = 300) if T > 0 "Temperature of the sensor";
initial equation
  if T > 0 then
    held = a.T;
  end if;
equation
  a.Q = 0;
  if T > 0 then
    T * der(held) = a.T - held;
    y = held;
  else
    y = a.T;
  end if;
  annotation(__AnchorBend(group = "Thermal", symbol = "thermometer", keywords = "temperature sensor thermometer thermocouple lag measurement", width = 64, help = "Measures without taking heat; with a time constant it follows with a lag and starts settled.", validity = "Ideal: no heat flow."));
end TemperatureSensor;
