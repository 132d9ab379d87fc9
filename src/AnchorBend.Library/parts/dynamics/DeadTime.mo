block DeadTime "Delays its input by a constant time"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-6) = 1 "Delay time";
equation
  y = delay(u, T);
  annotation(__AnchorBend(group = "Dynamics", face = "e^{-<<T>> s}", keywords = "dead time delay lag latency transport pipe", width = 80,
    help = "Gives the input of T seconds ago; before that, the input's first value. Jumps come out as jumps, exactly T later. Steps are never longer than the delay.", validity = "Exact, also for jumps; what happened before the start is the first value."));
end DeadTime;
