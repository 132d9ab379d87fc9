block ParallelPID "PID controller in parallel form"
  input Real r "Set-point";
  input Real y "Measured value";
  output Real u "Controller output";
  parameter Real kp = 1 "Proportional gain";
  parameter Real ki = 1 "Integral gain";
  parameter Real kd = 0 "Derivative gain";
  parameter Real Tf(unit = "s", min = 1e-9) = 0.01 "Time constant of the derivative filter";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
protected
  Real I(start = 0) "Integral part";
  Real x(start = 0) "Filtered measurement";
  Real wanted "Output before its limits";
initial equation
  x = y;
equation
  der(I) = if wanted > uMax and r > y or wanted < uMin and r < y then 0 else ki * (r - y);
  Tf * der(x) = y - x;
  wanted = kp * (r - y) + I - kd * (y - x) / Tf;
  u = noEvent(max(uMin, min(uMax, wanted)));
  annotation(__AnchorBend(group = "Controllers", title = "PID, parallel form", face = "k_p+\\tfrac{k_i}{s}+k_ds", keywords = "pid parallel independent gains controller", width = 112, help = "Three gains side by side. The derivative works on the measured value; the integral stops while the output is at a limit and the error would drive it further."));
end ParallelPID;
