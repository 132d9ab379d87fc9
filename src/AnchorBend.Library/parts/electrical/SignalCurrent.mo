model SignalCurrent "Current from a signal"
  extends BetweenTerminals;
  input Real u(unit = "A") "Current from p to n, through the source" annotation(__AnchorBend(side = "top"));
equation
  i = u;
  annotation(__AnchorBend(group = "Electrical", symbol = "current", keywords = "controlled current source load", help = "Drives the signal's current through itself from p to n.", validity = "Ideal: any voltage."));
end SignalCurrent;
