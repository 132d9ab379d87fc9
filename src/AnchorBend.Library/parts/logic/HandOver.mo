block HandOver "From commands to a closed loop, and back"
  input Real command "Command, as of a schedule";
  input Real controller "Output of the controller";
  input Boolean closed = false "The loop is to be closed";
  output Real y "To the plant";
  output Real follow "What the controller follows while the loop is open";
  output Boolean track "The controller follows";
  parameter Boolean byTime = false "Handed over by time, not on the condition";
  parameter Real closes(unit = "s") = 10 "Time at which the loop closes" annotation(__AnchorBend(shown = "byTime"));
  parameter Real opens(unit = "s") = 1e9 "Time at which it opens again" annotation(__AnchorBend(shown = "byTime"));
  parameter Real fade(unit = "s", min = 1e-9) = 1 "Time in which a difference fades away";
protected
  Boolean isClosed;
  Boolean isOpen;
  discrete Real offset(start = 0, fixed = true) "Difference at the last hand-over";
  discrete Real since(start = -1e9, fixed = true) "Instant of the last hand-over";
  Real left "Part of the difference that is left";
  Real leftBefore "The same as of the hand-over before";
equation
  isClosed = if byTime then time >= closes and time < opens else closed;
  isOpen = not isClosed;
  leftBefore = if time < pre(since) + fade then 1 - ((time - pre(since)) / fade) ^ 3 * (10 + ((time - pre(since)) / fade) * (6 * ((time - pre(since)) / fade) - 15)) else 0;
  left = if time < since + fade then 1 - ((time - since) / fade) ^ 3 * (10 + ((time - since) / fade) * (6 * ((time - since) / fade) - 15)) else 0;
  when {isClosed, isOpen} then
    offset = (if isClosed then command - controller else controller - command) + pre(offset) * leftBefore;
    since = time;
  end when;
  follow = command + pre(offset) * leftBefore;
  track = not (isClosed or pre(isClosed));
  y = (if isClosed then controller else command) + offset * left;
  annotation(__AnchorBend(group = "Logic", symbol = "switch", keywords = "hand over take over bumpless transfer manual automatic schedule closed loop tracking", width = 96, height = 80, help = "Passes the command while the loop is open and the controller's output while it is closed. At a hand-over the output goes on from where it was: what the two differ by then fades away smoothly. Wire follow and track to a controller with inputs for tracking, so that it is at hand when the loop closes.", validity = "No bump in the output, whatever the controller says; its slope may change at once."));
end HandOver;
