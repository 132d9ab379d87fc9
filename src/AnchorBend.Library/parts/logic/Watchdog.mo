block Watchdog "Tells a stale signal"
  input Real u "Signal that should change";
  output Boolean stale "No change for too long";
  output Real held "Last good value";
  parameter Real T(unit = "s", min = 1e-9) = 1 "Longest time without a change";
  parameter Real band(min = 1e-12) = 1e-6 "Change that counts";
protected
  discrete Real last(start = 0) "Value at the last change";
  discrete Real since(start = 0) "Time of the last change";
equation
  when {u > pre(last) + band, u < pre(last) - band} then
    last = u;
    since = time;
  end when;
  stale = time > since + T;
  held = last;
  annotation(__AnchorBend(group = "Logic", symbol = "timer", keywords = "watchdog stale timeout lost link signal", width = 80, help = "True when the signal has not moved by more than the band for the given time, as after a lost link.", validity = "A signal that is rightly constant looks stale: choose the time longer than its quietest stretch."));
end Watchdog;
