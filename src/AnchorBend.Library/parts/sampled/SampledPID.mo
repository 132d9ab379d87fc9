block SampledPID "Sampled PID controller"
  input Real r "Set-point";
  input Real y "Measured value";
  output Real u "Controller output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real k = 1 "Gain";
  parameter Real Ti(unit = "s", min = 1e-9) = 1 "Integral time";
  parameter Real Td(unit = "s", min = 0) = 0 "Derivative time";
  parameter Real N(min = 1) = 10 "Derivative filter: its time constant is Td/N";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
protected
  parameter Real ad = if Td > 0 then Td / (Td + N * T) else 0;
  discrete Real I(start = 0) "Integral part";
  discrete Real D(start = 0) "Derivative part";
  discrete Real yOld(start = 0) "Last measurement";
  discrete Real wanted(start = 0) "Output before its limits";
equation
  when sample(0, T) then
    yOld = y;
    D = if initial() then 0 else ad * pre(D) - k * ad * N * (y - pre(yOld));
    wanted = k * (r - y) + pre(I) + D;
    u = max(uMin, min(uMax, wanted));
    I = pre(I) + k * T / Ti * (r - y) + (u - wanted) * min(1, T / Ti);
  end when;
  annotation(__AnchorBend(tunable = "pid", group = "Sampled", face = "\\mathrm{PID}(z)", keywords = "sampled discrete digital pid controller", width = 96, help = "Backward differences with a filtered derivative of the measured value and back-calculation at the limits (after Åström and Hägglund, PID Controllers, 1995, section 8).", validity = "For loops at least ten times slower than the sample time; the derivative is filtered."));
end SampledPID;
