block CarrierComparison "Pulse widths by a carrier"
  type Carrier = enumeration(triangle "Triangle", sawtooth "Sawtooth");
  type Sampling = enumeration(natural "As they come", once "Once a period", twice "At both ends of the triangle");
  parameter Integer n(min = 1, max = 12) = 3 "Number of phases";
  parameter Real f(unit = "Hz", displayUnit = "kHz", min = 1e-3) = 10000 "Frequency of the carrier";
  parameter Carrier carrier = Carrier.triangle "Form of the carrier";
  parameter Sampling sampling = Sampling.natural "When shares are taken over";
  parameter Real least(min = 0, max = 0.5) = 0 "Least share; the most is 1 less this";
  input Real duty[n] "Share of the period for which each output is true" annotation(__AnchorBend(vector = true));
  output Boolean y[n] "Pulses" annotation(__AnchorBend(vector = true));
protected
  parameter Real T(unit = "s") = 1 / f "Period";
  parameter Boolean isTriangle = carrier == Carrier.triangle "The carrier is a triangle";
  parameter Boolean isNatural = sampling == Sampling.natural "Shares are taken as they come";
  parameter Boolean isTwice = isTriangle and sampling == Sampling.twice "Shares are taken over twice a period";
  parameter Real Ts(unit = "s") = if isTwice then T / 2 else T "Time between samples";
  Real share[n] "Shares within their limits";
  Real c "Carrier, 0 to 1";
  discrete Boolean falls(start = true, fixed = true) "The carrier falls";
  discrete Real first[n](each unit = "s", each start = 0) "Until when a pulse that began lasts";
  discrete Real second[n](each unit = "s", each start = 0) "From when on the next one does";
equation
  c = if isNatural then (if isTriangle then interpolate(time * f, {0, 0.5, 1}, {0, 1, 0}, "repeat") else interpolate(time * f, {0, 1}, {0, 1}, "repeat")) else 0;
  when sample(0, Ts) then
    falls = isTwice and not pre(falls);
    for j in 1:n loop
      first[j] = if noEvent(share[j] >= 1) then time + 2 * T elseif falls then time else time + share[j] * (if isTriangle then T / 2 else T);
      second[j] = if noEvent(share[j] <= 0) or not isTriangle or isTwice and not falls then time + 2 * T elseif isTwice then time + (1 - share[j]) * T / 2 else time + (1 - share[j] / 2) * T;
    end for;
  end when;
  for j in 1:n loop
    share[j] = noEvent(min(max(duty[j], least), 1 - least));
    y[j] = if isNatural then share[j] > c else time < first[j] or time >= second[j];
  end for;
  annotation(__AnchorBend(choiceWords = true, group = "Drives", symbol = "triangle", keywords = "pulse-width modulation PWM carrier triangle sawtooth duty sampled regular limit", width = 80, help = "An output is true while its share lies above the carrier. With a triangle pulses lie about the middle of the period. Shares of 0 and below give no pulse, those above 1 no gap, unless a least share is asked for. Taken over once or twice a period, as by a controller that is locked to the carrier, each pulse has its width from the share at its sample.", validity = "Instants of switching are found exactly; shares that are taken as they come may switch twice within a period."));
end CarrierComparison;
