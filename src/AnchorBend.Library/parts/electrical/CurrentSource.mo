model CurrentSource "Constant current"
  extends BetweenTerminals;
  parameter Real I(unit = "A") = 1 "Current from p to n, through the source";
equation
  i = I;
  annotation(__AnchorBend(group = "Electrical", symbol = "current", keywords = "current source constant dc load", help = "Drives its current through itself from p to n, so a positive value draws from the network at p.", validity = "Ideal: any voltage; an open circuit is impossible with it."));
end CurrentSource;
