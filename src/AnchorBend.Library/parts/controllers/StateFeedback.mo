block StateFeedback "State feedback with set-point"
  parameter Integer n(min = 1, max = 20) = 2 "Number of states";
  input Real x[n] "States";
  input Real r "Set-point" annotation(__AnchorBend(side = "top"));
  output Real u "Controller output";
  parameter Real K[n] = {1, 1} "Gain of each state";
  parameter Real N = 1 "Gain of the set-point";
equation
  u = N * r - K * x;
  annotation(__AnchorBend(group = "Controllers", face = "Nr-Kx", keywords = "state feedback LQ LQR pole placement gain vector", width = 80, help = "The gains come from a pole placement or a quadratic criterion.", validity = "As many gains as the plant has states, all of them measured or observed; no limits."));
end StateFeedback;
