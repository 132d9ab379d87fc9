block BandPass "Band-pass of second order"
  input Real u "Input";
  output Real y "Output";
  parameter Real f(unit = "Hz", min = 1e-9) = 1 "Middle frequency";
  parameter Real Q(min = 1e-3) = 5 "Quality: middle frequency over bandwidth";
protected
  parameter Real w = 2 * 3.141592653589793 * f;
  Real x1(start = 0) "Filter state";
  Real x2(start = 0) "Filter state";
equation
  der(x1) = w * x2;
  der(x2) = w * (u - x1 - x2 / Q);
  y = x2 / Q;
  annotation(__AnchorBend(group = "Dynamics", title = "Band-pass filter", face = "\\text{band-pass}", keywords = "band pass filter resonance quality", width = 80, help = "Gain 1 at the middle frequency, falling to both sides.", validity = "Exact for the linear filter; quality above zero."));
end BandPass;
