block Compare "Compares two signals"
  type Kind = enumeration(less "u1 < u2", lessOrEqual "u1 ≤ u2", greater "u1 > u2", greaterOrEqual "u1 ≥ u2");
  input Real u1 "First input";
  input Real u2 = threshold "Second input; the threshold when not connected" annotation(__AnchorBend(optional = "twoInputs"));
  output Boolean y "Whether the comparison holds";
  parameter Kind kind = Kind.greater "Comparison";
  parameter Boolean twoInputs = false "Compare with a second signal";
  parameter Real threshold = 0 "Threshold";
protected
  Boolean above;
  Boolean below;
equation
  above = u1 > u2;
  below = u1 < u2;
  y = if kind == Kind.less then below elseif kind == Kind.lessOrEqual then not above elseif kind == Kind.greater then above else not below;
  annotation(__AnchorBend(choiceWords = true, group = "Logic", face = "\\text{<<kind>>}", keywords = "relational threshold greater less comparator < >", width = 96, help = "True while the comparison holds. The instant of a change is found exactly.", validity = "Exact at the instant of crossing; a signal that only touches the limit may or may not count."));
end Compare;
