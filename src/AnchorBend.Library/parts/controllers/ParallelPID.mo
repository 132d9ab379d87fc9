block ParallelPID "PID controller in parallel form"
  input Real r "Set-point";
  input Real y "Measured value";
  input Real uTrack = 0 "Output to follow while tracking" annotation(__AnchorBend(optional = "tracking"));
  input Boolean track = false "Follow the tracking input" annotation(__AnchorBend(optional = "tracking"));
  output Real u "Controller output";
  parameter Real kp = 1 "Proportional gain";
  parameter Real ki = 1 "Integral gain";
  parameter Real kd = 0 "Derivative gain";
  parameter Real Tf(unit = "s", min = 1e-9) = 0.01 "Time constant of the derivative filter";
  parameter Real b(min = 0) = 1 "Set-point weight of the proportional part";
  parameter Real c(min = 0) = 0 "Set-point weight of the derivative part";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
  parameter Boolean tracking = false "With inputs for tracking";
  parameter Real Tt(unit = "s", min = 1e-9) = 0.5 "Time constant with which the integral part follows while tracking" annotation(__AnchorBend(shown = "tracking"));
protected
  Real I(start = 0) "Integral part";
  Real x(start = 0) "Filtered input of the derivative";
  Real wanted "Output before its limits";
initial equation
  x = y - c * r;
equation
  der(I) = if track then (uTrack - wanted) / Tt elseif wanted > uMax and r > y or wanted < uMin and r < y then 0 else ki * (r - y);
  Tf * der(x) = y - c * r - x;
  wanted = kp * (b * r - y) + I - kd * (y - c * r - x) / Tf;
  u = if track then uTrack else noEvent(max(uMin, min(uMax, wanted)));
  annotation(__AnchorBend(tunable = "pid", group = "Controllers", title = "PID, parallel form", face = "k_p+\\tfrac{k_i}{s}+k_ds", keywords = "pid parallel independent gains controller", width = 112, help = "Three gains side by side, with weights for the set-point in the proportional and the derivative part, so that answers to set-points and to disturbances can be set apart. While tracking, the output is the tracking input and the integral part follows it, so that taking over makes no bump; the integral stops while the output is at a limit and the error would drive it further.", validity = "A linear law between its limits; the derivative acts only below the corner of its filter."));
end ParallelPID;
