block SeriesPID "PID controller in series form"
  input Real r "Set-point";
  input Real y "Measured value";
  input Real uTrack = 0 "Output to follow while tracking" annotation(__AnchorBend(optional = "tracking"));
  input Boolean track = false "Follow the tracking input" annotation(__AnchorBend(optional = "tracking"));
  output Real u "Controller output";
  parameter Real k = 1 "Gain";
  parameter Real Ti(unit = "s", min = 1e-9) = 1 "Integral time";
  parameter Real Td(unit = "s", min = 0) = 0.1 "Derivative time";
  parameter Real N(min = 1) = 10 "Derivative filter: its time constant is Td/N";
  parameter Real b(min = 0) = 1 "Set-point weight of the proportional part";
  parameter Real c(min = 0) = 1 "Set-point weight of the derivative part";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
  parameter Boolean tracking = false "With inputs for tracking";
  parameter Real Tt(unit = "s", min = 1e-9) = 0.5 "Time constant with which the integral part follows while tracking" annotation(__AnchorBend(shown = "tracking"));
protected
  parameter Real Tf(unit = "s") = if Td > 0 then Td / N else 1e-3;
  parameter Real lead = if Td > 0 then (Td - Tf) / Tf else 0 "What the lead adds to a jump";
  Real xr(start = 0) "Filtered set-point";
  Real xy(start = 0) "Filtered measurement";
  Real lr "Set-point with lead";
  Real ly "Measurement with lead";
  Real wanted "Output before its limits";
  Real I(start = 0) "Integral part";
equation
  Tf * der(xr) = r - xr;
  Tf * der(xy) = y - xy;
  lr = r + c * lead * (r - xr);
  ly = y + lead * (y - xy);
  wanted = k * (b * lr - ly) + I;
  u = if track then uTrack else noEvent(max(uMin, min(uMax, wanted)));
  der(I) = if track then (uTrack - wanted) / Tt else (k * (lr - ly) + u - wanted) / Ti;
  annotation(__AnchorBend(tunable = "pid", group = "Controllers", title = "PID, series form", face = "k\\,(1+\\tfrac{1}{T_is})\\tfrac{T_ds+1}{T_fs+1}", keywords = "pid series interacting form controller", width = 128, help = "The integral part follows the limited output, which keeps it from winding up. While tracking, the output is the tracking input and the integral part follows it. Weights of the set-point let answers to set-points and to disturbances be set apart; with weights of one it is the classical form on the error.", validity = "Its zeros are real, so it needs Ti and Td apart; the derivative acts only below the corner of its filter."));
end SeriesPID;
