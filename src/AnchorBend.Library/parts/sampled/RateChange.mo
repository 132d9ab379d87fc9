block RateChange "Change to another sample time"
  input Real u "Input, sampled with the first time";
  output Real y "Output, held with the second time";
  parameter Real T1(unit = "s", min = 1e-9) = 0.1 "Sample time of the input";
  parameter Real T2(unit = "s", min = 1e-9) = 0.5 "Sample time of the output";
protected
  parameter Real ratio = if T2 >= T1 then T2 / T1 else T1 / T2;
equation
  assert(abs(ratio - floor(ratio + 0.5)) < 1e-9, "The two sample times are not whole multiples of each other.");
  when sample(0, T2) then
    y = u;
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "T_1 \\to T_2", keywords = "rate change transition multirate hold", width = 80, help = "Holds the input at the second rate, and checks that the rates are whole multiples, so that the samples meet.", validity = "Ratios of whole numbers; faster to slower without a filter lets high frequencies fold over."));
end RateChange;
