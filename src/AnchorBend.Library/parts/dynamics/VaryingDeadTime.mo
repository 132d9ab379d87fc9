block VaryingDeadTime "Delay that a signal sets"
  input Real u "Input";
  input Real T(unit = "s") "Delay";
  output Real y "Output";
  parameter Real Tmax(unit = "s", min = 1e-9) = 1 "Longest delay";
equation
  y = delay(u, T, Tmax);
  annotation(__AnchorBend(group = "Dynamics", face = "u(t-T)", keywords = "variable delay dead time transport pipe flow", width = 80, help = "The input of T seconds ago; T may change between 0 and the longest delay.", validity = "The delay stays between zero and its longest time, and may not shrink faster than time passes if the order of things is to stay."));
end VaryingDeadTime;
