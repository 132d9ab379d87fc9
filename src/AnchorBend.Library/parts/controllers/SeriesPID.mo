block SeriesPID "PID controller in series form"
  input Real r "Set-point";
  input Real y "Measured value";
  output Real u "Controller output";
  parameter Real k = 1 "Gain";
  parameter Real Ti(unit = "s", min = 1e-9) = 1 "Integral time";
  parameter Real Td(unit = "s", min = 0) = 0.1 "Derivative time";
  parameter Real N(min = 1) = 10 "Derivative filter: its time constant is Td/N";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
protected
  parameter Real Tf(unit = "s") = if Td > 0 then Td / N else 1e-3;
  Real x(start = 0) "Filtered error";
  Real e "Error with lead";
  Real I(start = 0) "Integral part";
equation
  Tf * der(x) = r - y - x;
  e = (r - y) + (Td - Tf) * (r - y - x) / Tf * (if Td > 0 then 1 else 0);
  u = noEvent(max(uMin, min(uMax, k * e + I)));
  Ti * der(I) = u - I;
  annotation(__AnchorBend(group = "Controllers", title = "PID, series form", face = "k\\,(1+\\tfrac{1}{T_is})\\tfrac{T_ds+1}{T_fs+1}", keywords = "pid series interacting form controller", width = 128, help = "Integral part by positive feedback of the limited output, which keeps it from winding up. The derivative works on the error."));
end SeriesPID;
