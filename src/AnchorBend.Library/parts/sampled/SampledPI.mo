block SampledPI "PI controller computed at sample times"
  input Real r "Set-point";
  input Real y "Measured value";
  output Real u "Controller output";
  parameter Real k = 1 "Gain";
  parameter Real Ti(unit = "s", min = 1e-9) = 1 "Integral time";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin = -1e9 "Lower limit";
  parameter Real I0 = 0 "Start value of the integral part";
protected
  discrete Real I(start = I0) "Integral part";
  discrete Real v "Output before the limits";
  discrete Real held "Held output";
equation
  when sample(0, T) then
    v = k * (r - y) + pre(I);
    held = if v > uMax then uMax elseif v < uMin then uMin else v;
    I = if v > uMax and r > y or v < uMin and r < y then pre(I) else pre(I) + k * T / Ti * (r - y);
  end when;
  u = held;
  annotation(__AnchorBend(tunable = "pid", group = "Sampled", face = "\\text{PI } <<T>>", keywords = "digital controller discrete proportional integral", width = 96, height = 64,
    help = "Computes u = k e + I every T seconds and then adds k T/Ti e to I. The integral part stops while the output is limited and the error would drive it further.", validity = "For loops at least ten times slower than the sample time."));
end SampledPI;
