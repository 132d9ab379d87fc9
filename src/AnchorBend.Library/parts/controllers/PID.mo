block PID "PID controller with limits and anti-windup"
  type Form = enumeration(P "Proportional", PI "Proportional and integral", PD "Proportional and derivative", PID "All three");
  input Real r "Set-point";
  input Real y "Measured value";
  input Real ff = 0 "Feed-forward, added to the output" annotation(__AnchorBend(optional = "feedForward"));
  input Real uTrack = 0 "Output to follow while tracking" annotation(__AnchorBend(optional = "tracking"));
  input Boolean track = false "Follow the tracking input" annotation(__AnchorBend(optional = "tracking"));
  output Real u "Controller output";
  parameter Form form = Form.PI "Form";
  parameter Real k = 1 "Gain";
  parameter Real Ti(unit = "s", min = 1e-9) = 1 "Integral time" annotation(__AnchorBend(shown = "form == PI or form == PID"));
  parameter Real Td(unit = "s", min = 0) = 0.1 "Derivative time" annotation(__AnchorBend(shown = "form == PD or form == PID"));
  parameter Real N(min = 1) = 10 "Derivative filter: its time constant is Td/N" annotation(__AnchorBend(shown = "form == PD or form == PID"));
  parameter Real b(min = 0) = 1 "Set-point weight of the proportional part";
  parameter Real c(min = 0) = 0 "Set-point weight of the derivative part" annotation(__AnchorBend(shown = "form == PD or form == PID"));
  parameter Boolean limited = false "Limit the output";
  parameter Real uMax = 1 "Upper limit" annotation(__AnchorBend(shown = "limited"));
  parameter Real uMin = -1 "Lower limit" annotation(__AnchorBend(shown = "limited"));
  parameter Real Tt(unit = "s", min = 1e-9) = 0.5 "Time constant of the anti-windup" annotation(__AnchorBend(shown = "limited"));
  parameter Real I0 = 0 "Start value of the integral part";
  parameter Boolean feedForward = false "With a feed-forward input";
  parameter Boolean tracking = false "With inputs for tracking";
protected
  parameter Boolean integral = form == Form.PI or form == Form.PID;
  parameter Boolean derivative = (form == Form.PD or form == Form.PID) and Td > 0;
  parameter Real Tf(unit = "s") = if derivative then Td / N else 1 "Filter time constant";
  Real P "Proportional part";
  Real I(start = I0) "Integral part";
  Real D "Derivative part";
  Real x "Filtered derivative input";
  Real v "Output before the limits";
equation
  P = k * (b * r - y);
  der(I) = if not integral then 0 elseif track then (uTrack - v) / Tt else k * (r - y) / Ti + (if limited then (u - v) / Tt else 0);
  der(x) = if derivative then (c * r - y - x) / Tf else 0;
  D = if derivative then k * Td * (c * r - y - x) / Tf else 0;
  v = P + I + D + ff;
  u = if track then uTrack elseif limited and v > uMax then uMax elseif limited and v < uMin then uMin else v;
  annotation(__AnchorBend(tunable = "pid", group = "Controllers", face = "\\text{<<form>>}", formula = "u = k\\left(b\\,r - y + \\frac{1}{T_i}\\int (r-y)\\,dt + T_d\\,\\dot e_f\\right)",
    keywords = "controller regulator proportional integral derivative feedback loop tune", width = 96, height = 64,
    help = "Ideal form with one gain k for all parts. At its limits the integral part follows the limited output with the time constant Tt, so it does not wind up. While tracking, the output is the tracking input and the integral part follows it, so that taking over makes no bump.", validity = "A linear law between its limits. The derivative is filtered, so above N/Td it acts as a gain."));
end PID;
