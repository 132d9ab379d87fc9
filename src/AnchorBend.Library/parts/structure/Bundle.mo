expandable connector Bundle "Joins signals under names"
  annotation(__AnchorBend(group = "Structure", bundle = "join", members = "a, b", symbol = "bundle", keywords = "bus vector group names join collect harness signals nested", width = 40, height = 64, help = "Carries any number of signals, each under the name it is given here, in one wire. A member may itself be a bundle. Picks take members out anywhere, without removing them.", validity = "No limit of members or of nesting. On the diagram members are signals; texts may join physical connectors, too."));
end Bundle;
