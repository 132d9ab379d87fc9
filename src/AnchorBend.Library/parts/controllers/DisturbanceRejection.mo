block DisturbanceRejection "Disturbance-rejecting controller"
  type Order = enumeration(First "The plant's rate follows its input", Second "The plant's acceleration follows its input");
  input Real r "Set-point";
  input Real y "Measured value";
  input Real uTrack = 0 "Output to follow while tracking" annotation(__AnchorBend(optional = "tracking"));
  input Boolean track = false "Follow the tracking input" annotation(__AnchorBend(optional = "tracking"));
  output Real u "Controller output";
  output Real d = z3 if showDisturbance "Estimated disturbance, all that the plant does besides its input" annotation(__AnchorBend(optional = "showDisturbance"));
  parameter Order order = Order.First "Order of the plant";
  parameter Real b0 = 1 "Input gain: rate or acceleration of the measured value for a unit of output";
  parameter Real wc(unit = "rad/s", min = 1e-9) = 1 "Bandwidth of the closed loop";
  parameter Real ratio(min = 1) = 5 "Observer bandwidth over that of the closed loop";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
  parameter Boolean tracking = false "With inputs for tracking";
  parameter Real Tt(unit = "s", min = 1e-9) = 0.5 "Time constant with which the estimate follows while tracking" annotation(__AnchorBend(shown = "tracking"));
  parameter Boolean showDisturbance = false "With the estimated disturbance as an output";
protected
  parameter Boolean second = order == Order.Second;
  parameter Real wo = ratio * wc "Observer bandwidth";
  Real z1 "Estimated measured value";
  Real z2(start = 0) "Estimated rate";
  Real z3(start = 0) "Estimated disturbance";
  Real wanted "Output before its limits";
initial equation
  z1 = y;
equation
  der(z1) = if second then z2 + 3 * wo * (y - z1) else z3 + b0 * u + 2 * wo * (y - z1);
  der(z2) = if second then z3 + b0 * u + 3 * wo ^ 2 * (y - z1) else 0;
  der(z3) = if track then (wanted - uTrack) * b0 / Tt else (if second then wo ^ 3 else wo ^ 2) * (y - z1);
  wanted = ((if second then wc ^ 2 * (r - z1) - 2 * wc * z2 else wc * (r - z1)) - z3) / b0;
  u = if track then uTrack else noEvent(max(uMin, min(uMax, wanted)));
  annotation(__AnchorBend(tunable = "rejection", group = "Controllers", face = "\\hat d,\\;\\omega_c", formula = "u = \\frac{\\omega_c(r-\\hat y)-\\hat d}{b_0}", keywords = "disturbance rejection extended state observer estimate robust controller", width = 104, height = 64, help = "An observer takes all that moves the measured value besides the output for one disturbance; the controller cancels its estimate and leaves an integrator, or a double one, with poles at the wanted bandwidth (Gao, American Control Conference 2003). The observer sees the limited output, so nothing winds up; while tracking the estimate follows so that taking over makes no bump.", validity = "The input gain should be right within a factor of two; dead time and unmodelled lags must be short beside 1/(ratio wc); noise is amplified by the observer's bandwidth."));
end DisturbanceRejection;
