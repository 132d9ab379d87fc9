block RandomBinary "Random binary signal"
  output Real y "Output";
  parameter Real amplitude = 1 "Amplitude";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Shortest time at one level";
  parameter Integer seed(min = 0) = 1 "Seed";
  parameter Real offset = 0 "Middle value";
protected
  discrete Real state(start = mod(48271 * (seed + 1) + 11, 2147483647)) "State of the generator";
equation
  when sample(0, T) then
    state = mod(48271 * pre(state), 2147483647);
  end when;
  y = offset + (if state > 1073741823 then amplitude else -amplitude);
  annotation(__AnchorBend(group = "Sources", symbol = "pulse", keywords = "random binary sequence identification excitation prbs", width = 64, help = "Jumps at random between two levels; excites a wide band of frequencies with a known amplitude.", validity = "White only well below its clock; the same seed gives the same signal."));
end RandomBinary;
