block BridgeGates "Gates of a bridge from its pulses"
  parameter Integer n(min = 1, max = 12) = 3 "Number of phases";
  parameter Real deadTime(unit = "s", min = 0) = 0 "Time for which both switches of a phase are open at a change";
  parameter Boolean canDisable = false "With an input that opens all switches";
  input Boolean u[n] "Pulses: each phase goes to the positive rail while true" annotation(__AnchorBend(vector = true));
  input Boolean enabled = true "Switches; all are open while false" annotation(__AnchorBend(side = "bottom", optional = "canDisable"));
  output Boolean upper[n] "Gates of the upper switches" annotation(__AnchorBend(vector = true));
  output Boolean lower[n] "Gates of the lower switches" annotation(__AnchorBend(vector = true));
protected
  discrete Real since[n](each unit = "s", each start = -1e9, each fixed = true) "Last change of each pulse";
equation
  for j in 1:n loop
    when {u[j], not u[j]} then
      since[j] = time;
    end when;
    upper[j] = enabled and u[j] and time >= since[j] + deadTime;
    lower[j] = enabled and not u[j] and time >= since[j] + deadTime;
  end for;
  annotation(__AnchorBend(group = "Drives", symbol = "stairs", keywords = "gates bridge inverter dead time interlock complementary driver", width = 80, height = 64, help = "Each phase has its upper switch closed while its pulse is true and its lower one while it is not. At each change both are open for the dead time, in which the current goes on through a diode.", validity = "Pulses shorter than the dead time are lost."));
end BridgeGates;
