partial model BetweenSurfaces "Heat between two places"
  ThermalPort a "First place" annotation(__AnchorBend(side = "left"));
  ThermalPort b "Second place" annotation(__AnchorBend(side = "right"));
protected
  Real Q(unit = "W") "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
end BetweenSurfaces;
