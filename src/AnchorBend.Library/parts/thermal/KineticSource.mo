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
  parameter Boolean afterheat = false "Heat of decay counts";
  parameter Real gamma[:](each unit = "1", each min = 0) = {0.0262, 0.0174, 0.0106, 0.0072, 0.0046, 0.0068} "Shares of its groups in the power" annotation(__AnchorBend(shown = "afterheat"));
  parameter Real mu[size(gamma, 1)](each unit = "1/s", each min = 1e-12) = {0.5, 0.05, 5e-3, 5e-4, 4e-5, 1e-6} "Decay rates of its groups" annotation(__AnchorBend(shown = "afterheat"));
protected
  parameter Integer groups = size(beta, 1);
  Real power(unit = "W", displayUnit = "kW", start = P0, fixed = true, nominal = 1e4) "Power";
  Real held[groups](each unit = "W", start = {beta[i] * P0 / (generation * lambda[i]) for i in 1:groups}, each fixed = true, each nominal = 1e4) "What delayed groups hold, as power";
  Real late[size(gamma, 1)](each unit = "W", start = if afterheat then gamma * P0 else zeros(size(gamma, 1)), each fixed = true, each nominal = 1e4) "Power of decay, by group";
  Real reactivity(unit = "1") "Reactivity";
equation
  reactivity = u + (if feedback then sum(alpha[i] * (T[i] - reference[i]) for i in 1:n) else 0);
  der(power) = (reactivity - sum(beta)) / generation * power + sum(lambda[i] * held[i] for i in 1:groups);
  for i in 1:groups loop
    der(held[i]) = beta[i] / generation * power - lambda[i] * held[i];
  end for;
  for i in 1:size(gamma, 1) loop
    der(late[i]) = if afterheat then mu[i] * (gamma[i] * power - late[i]) else 0;
  end for;
  P = if afterheat then power * (1 - sum(gamma)) + sum(late) else power;
  annotation(__AnchorBend(group = "Thermal", symbol = "heat", keywords = "kinetics point delayed groups reactivity feedback heat source period", width = 64, formula = "\\dot P = \\frac{\\varrho - \\beta}{\\Lambda} P + \\sum \\lambda_i C_i", help = "Point kinetics with delayed groups (Keepin's six of thermal fission are set; others may be given). It starts in equilibrium at its power. Temperatures act back on the reactivity. With heat of decay a part of the power comes late, by groups; those set follow Way and Wigner (0.0622 of the power after 1 s, falling with the time to the power 0.2) within 2 per cent from 1 s to a day, after long running.", validity = "One point; reactivity below the share of all delayed groups unless short times are wanted."));
end KineticSource;
