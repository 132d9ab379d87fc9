model Lever "Massless lever on a fixed pivot"
  TranslationalPort a "End of the first arm" annotation(__AnchorBend(side = "left"));
  TranslationalPort b "End of the second arm" annotation(__AnchorBend(side = "right"));
  parameter Real ratio(unit = "1") = -2 "Way of b for way of a; negative on the other side of the pivot";
equation
  b.position = ratio * a.position;
  a.force + ratio * b.force = 0;
  annotation(__AnchorBend(group = "Translational", symbol = "lever", keywords = "lever transmission ratio linkage", help = "Small motions only: the ends move along lines, in the ratio of the arms. No power is lost.", validity = "Small angles; massless and rigid."));
end Lever;
