partial model BetweenFlanges "Something between two points that move along a line"
  TranslationalPort a "Left end" annotation(__AnchorBend(side = "left"));
  TranslationalPort b "Right end" annotation(__AnchorBend(side = "right"));
protected
  Real length(unit = "m") "Distance of the ends";
  Real f(unit = "N") "Force that draws the ends together";
equation
  length = b.position - a.position;
  b.force = f;
  a.force = -f;
end BetweenFlanges;
