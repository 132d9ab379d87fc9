block Time "The simulated time"
  output Real y(unit = "s") "Time";
equation
  y = time;
  annotation(__AnchorBend(group = "Sources", face = "t", keywords = "clock seconds", width = 64, help = "Gives the time since the start of the run, in seconds.", validity = "Exact."));
end Time;
