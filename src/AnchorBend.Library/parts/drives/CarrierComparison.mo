block CarrierComparison "Pulse widths by a carrier"
  type Carrier = enumeration(triangle "Triangle", sawtooth "Sawtooth");
  parameter Integer n(min = 1, max = 12) = 3 "Number of phases";
  parameter Real f(unit = "Hz", displayUnit = "kHz", min = 1e-3) = 10000 "Frequency of the carrier";
  parameter Carrier carrier = Carrier.triangle "Form of the carrier";
  input Real duty[n] "Share of the period for which each output is true" annotation(__AnchorBend(vector = true));
  output Boolean y[n] "Pulses";
protected
  Real c "Carrier, 0 to 1";
  parameter Real peak = if carrier == Carrier.triangle then 0.5 else 1 "Place of the peak in a period";
equation
  c = if carrier == Carrier.triangle then interpolate(time * f, {0, 0.5, 1}, {0, 1, 0}, "repeat") else interpolate(time * f, {0, 1}, {0, 1}, "repeat");
  for j in 1:n loop
    y[j] = duty[j] > c;
  end for;
  annotation(__AnchorBend(choiceWords = true, group = "Drives", symbol = "triangle", keywords = "pulse-width modulation PWM carrier triangle sawtooth duty", width = 80, help = "An output is true while its share lies above the carrier. With a triangle pulses lie about the middle of the period. Shares of 0 and below give no pulse, those above 1 no gap.", validity = "Instants of switching are found exactly; shares that change within a period may switch twice."));
end CarrierComparison;
