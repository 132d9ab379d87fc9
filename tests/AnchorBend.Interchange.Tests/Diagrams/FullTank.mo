model FullTank "A tank that runs full"
  PulseTrain pulses(height = 1, width = 0.5, period = 1, offset = -0.4);
  LimitedIntegrator tank(upper = 0.45, lower = -0.05);
equation
  connect(pulses.y, tank.u);
end FullTank;
// values: closed form
// 0.8 tank.y 0.17999999999999997
// 4.3 tank.y 0.4299999999999999
// 7.7 tank.y 0.36999999999999994
// 20.9 tank.y 0.2900000000000006
