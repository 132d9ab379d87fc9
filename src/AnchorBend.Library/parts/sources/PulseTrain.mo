block PulseTrain "Pulses of a given width, again and again"
  output Real y "Output";
  parameter Real height = 1 "Height of a pulse";
  parameter Real width(min = 0, max = 1) = 0.5 "Part of the period that is high";
  parameter Real period(unit = "s", min = 1e-9) = 1 "Period";
  parameter Real offset = 0 "Value between pulses";
  parameter Real startTime(unit = "s") = 0 "Start of the first pulse";
protected
  discrete Real begun(start = -1e300) "Start of the present period";
equation
  when sample(startTime, period) then
    begun = time;
  end when;
  y = offset + (if time < startTime then 0 elseif time < begun + width * period then height else 0);
  annotation(__AnchorBend(group = "Sources", symbol = "pulse", keywords = "duty periodic rectangular", width = 64,
    help = "Is high for the given part of every period, from the start time on.", validity = "Exact edges; the width is below the period."));
end PulseTrain;
