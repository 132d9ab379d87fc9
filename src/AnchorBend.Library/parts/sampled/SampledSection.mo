partial block SampledSection "Continuous section of first or second order, sampled"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
protected
  parameter Real bs[3] "Numerator: factors of s^2, s and 1";
  parameter Real as[3] "Denominator: factors of s^2, s and 1";
  parameter Real exact(unit = "rad/s") = 0 "Frequency at which the response is that of the continuous part; 0 for slow signals";
  parameter Real K = if exact > 0 then exact / tan(exact * T / 2) else 2 / T "Factor of (z - 1) / (z + 1) in the place of s";
  parameter Boolean second = as[1] <> 0 or bs[1] <> 0;
  parameter Real b[3] = if second then {bs[1] * K ^ 2 + bs[2] * K + bs[3], 2 * (bs[3] - bs[1] * K ^ 2), bs[1] * K ^ 2 - bs[2] * K + bs[3]} else {bs[2] * K + bs[3], bs[3] - bs[2] * K, 0};
  parameter Real a[3] = if second then {as[1] * K ^ 2 + as[2] * K + as[3], 2 * (as[3] - as[1] * K ^ 2), as[1] * K ^ 2 - as[2] * K + as[3]} else {as[2] * K + as[3], as[3] - as[2] * K, 0};
  discrete Real x1(start = 0) "Memory";
  discrete Real x2(start = 0) "Memory";
equation
  when sample(0, T) then
    y = (b[1] * u + pre(x1)) / a[1];
    x1 = b[2] * u - a[2] * y + pre(x2);
    x2 = b[3] * u - a[3] * y;
  end when;
end SampledSection;
