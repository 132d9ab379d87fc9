block ExponentialRise "Rise and fall with time constants"
  output Real y "Output";
  parameter Real amplitude = 1 "Final value of the rise";
  parameter Real T1(unit = "s", min = 1e-9) = 0.5 "Time constant of the rise";
  parameter Real T2(unit = "s", min = 1e-9) = 0.5 "Time constant of the fall";
  parameter Real startTime(unit = "s") = 0 "Start of the rise";
  parameter Real endTime(unit = "s", min = startTime) = 2 "Start of the fall";
  parameter Real offset = 0 "Value before";
equation
  y = offset + (if time < startTime then 0 elseif time < endTime then amplitude * (1 - exp(-(time - startTime) / T1))
    else amplitude * (1 - exp(-(endTime - startTime) / T1)) * exp(-(time - endTime) / T2));
  annotation(__AnchorBend(group = "Sources", symbol = "decay", keywords = "exponential rise decay charge", width = 64, help = "Rises like the charge of a capacitor, and falls again from the end time on.", validity = "Time constants above zero."));
end ExponentialRise;
