block SixStepGates "Gates of a bridge from what each phase should do"
  input Real u[3] "1 to the positive rail, -1 to the negative one, 0 free" annotation(__AnchorBend(vector = true));
  input Boolean pulse = true "Pulses of the upper switches" annotation(__AnchorBend(side = "bottom", optional = "pulsed"));
  parameter Boolean pulsed = false "With an input for pulses";
  output Boolean upper[3] "Gates of the upper switches" annotation(__AnchorBend(vector = true));
  output Boolean lower[3] "Gates of the lower switches" annotation(__AnchorBend(vector = true));
equation
  for j in 1:3 loop
    upper[j] = u[j] > 0.5 and pulse;
    lower[j] = u[j] < -0.5;
  end for;
  annotation(__AnchorBend(group = "Drives", symbol = "stairs", keywords = "six-step commutation gates bridge brushless block", width = 80, height = 64, help = "What a commutation table gives becomes gates. With pulses the upper switch of the phase is pulsed, and its current goes on through the lower diode meanwhile.", validity = "Exact; no dead time is needed, as the switches of one phase are never asked for one after the other."));
end SixStepGates;
