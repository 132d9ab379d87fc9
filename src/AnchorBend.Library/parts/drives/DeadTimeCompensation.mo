block DeadTimeCompensation "Makes up for the dead time of a bridge"
  parameter Integer n(min = 1, max = 12) = 3 "Number of phases";
  input Real duty[n] "Shares wanted" annotation(__AnchorBend(vector = true));
  input Real i[n](each unit = "A") "Currents out of the phases" annotation(__AnchorBend(vector = true, side = "bottom"));
  output Real y[n] "Shares to ask for" annotation(__AnchorBend(vector = true));
  parameter Real deadTime(unit = "s", min = 0) = 1e-6 "Dead time of the bridge";
  parameter Real f(unit = "Hz", displayUnit = "kHz", min = 1e-3) = 10000 "Frequency of the switching";
  parameter Real least(unit = "A", min = 1e-9) = 0.1 "Current below which less is made up for";
equation
  for j in 1:n loop
    y[j] = duty[j] + deadTime * f * noEvent(max(-1, min(1, i[j] / least)));
  end for;
  annotation(__AnchorBend(group = "Drives", face = "d + t_d f\\,\\operatorname{sgn} i", keywords = "dead time compensation lock-out interlock inverter distortion", width = 112, height = 64, help = "During the dead time the direction of its current decides to which rail a phase goes: a share of the dead time over the period is lost with a current out of the phase, and gained with one into it. It is added beforehand; near no current, where the direction is not sure, less of it.", validity = "Exact on the mean of a period while the current keeps its direction in it."));
end DeadTimeCompensation;
