connector TranslationalPort "Point of a mechanism that moves along a line"
  Real s(unit = "m") "Position";
  flow Real f(unit = "N") "Force into the part";
  annotation(__AnchorBend(domain = "translational"));
end TranslationalPort;
