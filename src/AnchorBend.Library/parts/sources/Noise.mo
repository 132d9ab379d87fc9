block Noise "Random noise of a bandwidth, the same at each run"
  output Real y "Output";
  parameter Real sigma(min = 0) = 1 "Standard deviation";
  parameter Real bandwidth(unit = "Hz", min = 1e-9) = 10 "Bandwidth";
  parameter Integer seed(min = 0) = 1 "Seed; another one gives other noise";
  parameter Integer order(min = 1, max = 24) = 12 "How many uniform numbers make one value";
  parameter Real mean = 0 "Mean";
protected
  parameter Real T(unit = "s") = 1 / (2 * bandwidth) "Distance of the random values";
  discrete Real state(start = mod(48271 * (seed + 1) + 11, 2147483647)) "State of the generator";
  discrete Real value(start = 0) "Present random value";
  discrete Real chain[order] "States of one value's numbers";
equation
  when sample(0, T) then
    for i in 1:order loop
      chain[i] = mod(48271 * (if i == 1 then pre(state) else chain[max(1, i - 1)]), 2147483647);
    end for;
    state = chain[order];
    value = sqrt(12 / order) * (sum(chain) / 2147483647 - order / 2);
  end when;
  y = mean + sigma * value;
  annotation(__AnchorBend(group = "Sources", symbol = "noise", keywords = "noise random white gaussian normal seed bandwidth disturbance", width = 64, help = "Holds one nearly normal random number for half a period of the bandwidth: the sum of uniform numbers of a multiplicative generator (Park and Miller, Communications of the ACM 31, 1988, with the multiplier 48271). The same seed gives the same noise in each run.", validity = "Bounded and band-limited; white only well below its bandwidth. The same seed gives the same signal."));
end Noise;
