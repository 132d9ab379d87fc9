model KineticSource "Heat source with kinetics and feedback"
  input Real u = 0 "Reactivity from outside" annotation(__AnchorBend(optional = "driven", side = "left"));
  input Real T[n](each unit = "K", each displayUnit = "degC") = reference "Temperatures that act back" annotation(__AnchorBend(optional = "feedback", side = "left", vector = true));
  output Real P(unit = "W", displayUnit = "kW") "Power" annotation(__AnchorBend(side = "right"));
  parameter Real P0(unit = "W", displayUnit = "kW", min = 1e-6) = 50000 "Power at the start, in equilibrium";
  parameter Real beta[:](each unit = "1", each min = 0) = {0.000215, 0.001424, 0.001274, 0.002568, 0.000748, 0.000273} "Shares of the delayed groups";
  parameter Real lambda[size(beta, 1)](each unit = "1/s", each min = 1e-9) = {0.0124, 0.0305, 0.111, 0.301, 1.14, 3.01} "Decay rates of the delayed groups";
  parameter Real generation(unit = "s", min = 1e-9) = 1e-4 "Mean generation time";
  parameter Boolean driven = true "The reactivity comes from a signal";
  parameter Boolean feedback = false "Temperatures act back";
  parameter Integer n(min = 1, max = 50) = 1 "How many temperatures act back" annotation(__AnchorBend(shown = "feedback"));
  parameter Real alpha[n](each unit = "1/K") = fill(-1e-5, n) "Reactivity by each temperature" annotation(__AnchorBend(shown = "feedback"));
  parameter Real reference[n](each unit = "K", each displayUnit = "degC") = fill(293.15, n) "Temperatures at which they do not act" annotation(__AnchorBend(shown = "feedback"));
protected
  parameter Integer groups = size(beta, 1);
  Real power(unit = "W", displayUnit = "kW", start = P0, fixed = true, nominal = 1e4) "Power";
  Real held[groups](each unit = "W", start = {beta[i] * P0 / (generation * lambda[i]) for i in 1:groups}, each fixed = true, each nominal = 1e4) "What delayed groups hold, as power";
  Real reactivity(unit = "1") "Reactivity";
equation
  reactivity = u + (if feedback then sum(alpha[i] * (T[i] - reference[i]) for i in 1:n) else 0);
  der(power) = (reactivity - sum(beta)) / generation * power + sum(lambda[i] * held[i] for i in 1:groups);
  for i in 1:groups loop
    der(held[i]) = beta[i] / generation * power - lambda[i] * held[i];
  end for;
  P = power;
  annotation(__AnchorBend(group = "Thermal", symbol = "heat", keywords = "kinetics point delayed groups reactivity feedback heat source period", width = 64, formula = "\\dot P = \\frac{\\varrho - \\beta}{\\Lambda} P + \\sum \\lambda_i C_i", help = "Point kinetics with delayed groups (Keepin's six of thermal fission are set; others may be given). It starts in equilibrium at its power. Temperatures act back on the reactivity.", validity = "One point; no decay heat; reactivity below the share of all delayed groups unless short times are wanted."));
end KineticSource;
