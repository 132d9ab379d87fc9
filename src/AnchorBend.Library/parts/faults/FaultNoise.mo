block FaultNoise "Adds random values"
  input Real u "Signal";
  input Boolean active "Whether the fault is there";
  output Real y "What comes of it";
  parameter Real value(min = 0) = 1 "Standard deviation";
  constant Real never(unit = "s") = 1e300 "Beyond all runs";
  parameter Real T(unit = "s", min = 1e-6) = 0.05 "Distance of the values";
  parameter Integer seed(min = 1, max = 100000) = 1 "Another one gives other values";
protected
  discrete Real next(start = never, fixed = true, unit = "s") "When the next value comes; never while it is not there";
  discrete Real state(start = 16807 * seed, fixed = true) "State of the generator";
  discrete Real random(start = 0, fixed = true) "Present random value";
  discrete Real chain[12](each start = 0, each fixed = true) "States of one value's numbers";
equation
  when {initial(), active, not active, time >= pre(next)} then
    next = if active then time + T else never;
    for i in 1:12 loop
      chain[i] = mod(48271 * (if i == 1 then pre(state) else chain[max(1, i - 1)]), 2147483647);
    end for;
    state = chain[12];
    random = sum(chain) / 2147483647 - 6;
  end when;
  y = if active then u + value * random else u;
  annotation(__AnchorBend(help = "Adds nearly normal random numbers: sums of twelve uniform ones of a multiplicative generator (Park and Miller, Communications of the ACM 31, 1988, with the multiplier 48271).", validity = "While it is not active, its output is its input, exactly."));
end FaultNoise;
