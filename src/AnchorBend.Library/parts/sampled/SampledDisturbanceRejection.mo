block SampledDisturbanceRejection "Sampled disturbance-rejecting controller"
  type Order = enumeration(First "The plant's rate follows its input", Second "The plant's acceleration follows its input");
  input Real r "Set-point";
  input Real y "Measured value";
  input Real uTrack = 0 "Output to follow while tracking" annotation(__AnchorBend(optional = "tracking"));
  input Boolean track = false "Follow the tracking input" annotation(__AnchorBend(optional = "tracking"));
  output Real u "Controller output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Order order = Order.First "Order of the plant";
  parameter Real b0 = 1 "Input gain: rate or acceleration of the measured value for a unit of output";
  parameter Real wc(unit = "rad/s", min = 1e-9) = 1 "Bandwidth of the closed loop";
  parameter Real ratio(min = 1) = 5 "Observer bandwidth over that of the closed loop";
  parameter Real uMax = 1e9 "Upper limit";
  parameter Real uMin(max = uMax) = -1e9 "Lower limit";
  parameter Boolean tracking = false "With inputs for tracking";
protected
  parameter Boolean second = order == Order.Second;
  parameter Real beta = exp(-ratio * wc * T) "Poles of the observer";
  parameter Real l1 = if second then 1 - beta ^ 3 else 1 - beta ^ 2;
  parameter Real l2 = if second then 3 * (1 - beta) ^ 2 * (1 + beta) / (2 * T) else 0;
  parameter Real l3 = if second then (1 - beta) ^ 3 / T ^ 2 else (1 - beta) ^ 2 / T;
  discrete Real p1(start = 0) "Predicted measured value";
  discrete Real p2(start = 0) "Predicted rate";
  discrete Real p3(start = 0) "Predicted disturbance";
  discrete Real e(start = 0) "Measured value less its prediction";
  discrete Real z1(start = 0) "Estimated measured value";
  discrete Real z2(start = 0) "Estimated rate";
  discrete Real z3(start = 0) "Estimated disturbance";
  discrete Real wanted(start = 0) "Output before its limits";
equation
  when sample(0, T) then
    e = if initial() then 0 else y - pre(p1);
    z1 = if initial() then y else pre(p1) + l1 * e;
    z2 = pre(p2) + l2 * e;
    z3 = pre(p3) + l3 * e;
    wanted = ((if second then wc ^ 2 * (r - z1) - 2 * wc * z2 else wc * (r - z1)) - z3) / b0;
    u = if track then uTrack else max(uMin, min(uMax, wanted));
    p1 = if second then z1 + T * z2 + T ^ 2 / 2 * (z3 + b0 * u) else z1 + T * (z3 + b0 * u);
    p2 = if second then z2 + T * (z3 + b0 * u) else 0;
    p3 = if track then z3 + b0 * (wanted - uTrack) else z3;
  end when;
  annotation(__AnchorBend(tunable = "rejection", group = "Sampled", face = "\\hat d\\,(z)", keywords = "sampled discrete digital disturbance rejection extended state observer controller", width = 104, help = "The disturbance-rejecting controller at sample times, with an observer that corrects its estimate by the present sample before it is used (gains after Miklosovic, Radke and Gao, American Control Conference 2006). The observer sees the limited output, so nothing winds up; while tracking the estimate is set so that the next output would be the tracking input, so that taking over makes no bump.", validity = "The input gain should be right within a factor of two; the observer's bandwidth must stay well below half the sampling rate."));
end SampledDisturbanceRejection;
