block Square "A wave of two values"
  output Real y "Output";
  parameter Real amplitude = 1 "Half the distance of the two values";
  parameter Real period(unit = "s", min = 1e-9) = 1 "Period";
  parameter Real offset = 0 "Mean of the two values";
  parameter Real startTime(unit = "s") = 0 "The output is the offset before";
protected
  discrete Real begun(start = -1e300) "Start of the present period";
equation
  when sample(startTime, period) then
    begun = time;
  end when;
  y = offset + (if time < startTime then 0 elseif time < begun + period / 2 then amplitude else -amplitude);
  annotation(__AnchorBend(group = "Sources", symbol = "square", keywords = "wave alternating test signal", width = 64,
    help = "Alternates between offset + amplitude and offset − amplitude, the first half of each period high. All changes are exact events.", validity = "Exact edges."));
end Square;
