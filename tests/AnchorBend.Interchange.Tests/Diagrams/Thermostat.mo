model Thermostat "A thermostat and a heated tank"
  Constant r(k = 20);
  TwoPoint thermostat(band = 2, start = true);
  BooleanToReal heater(whenTrue = 30);
  Lag tank(T = 5, y0 = 10);
equation
  connect(r.y, thermostat.r);
  connect(thermostat.u, heater.u);
  connect(heater.y, tank.u);
  connect(tank.y, thermostat.y);
end Thermostat;
// values: closed form
// 2.0 tank.y 16.593599079287213
// 13.0 tank.y 20.972664989602194
// 40.0 tank.y 20.849285441959406
