block Relay "Switches between two values with hysteresis"
  input Real u "Input";
  output Real y "Output";
  parameter Real on = 0.5 "Switches on above";
  parameter Real off = -0.5 "Switches off below";
  parameter Real yOn = 1 "Output while on";
  parameter Real yOff = -1 "Output while off";
  parameter Boolean startsOn = false "On at the start";
protected
  Boolean state(start = startsOn);
equation
  state = if pre(state) then u >= off else u > on;
  y = if state then yOn else yOff;
  annotation(__AnchorBend(group = "Limits and friction", symbol = "relay", keywords = "two-point switch hysteresis thermostat bang", width = 64, help = "Keeps its state while the input lies between the two thresholds. On must not be below off.", validity = "Exact at the crossings; with equal thresholds in a loop without delay it would switch without end."));
end Relay;
