block SectorSensor "Sector of a rotor by three sensors"
  input Real angle(unit = "rad") "Electrical angle of the rotor";
  output Boolean y[3] "Sensors, each true for half a turn" annotation(__AnchorBend(vector = true));
  parameter Real shift(unit = "rad", displayUnit = "deg") = -0.5235987755982988 "Angle by which the sensors stand ahead";
protected
  constant Real third = 2.0943951023931953 "Third of a turn, rad";
equation
  for j in 1:3 loop
    y[j] = sin(angle + shift - (j - 1) * third) > 0;
  end for;
  annotation(__AnchorBend(group = "Drives", symbol = "sensor", keywords = "Hall sensor sector rotor position commutation brushless", width = 64, help = "Three sensors a third of a turn apart, as commutation by a table needs them: six codes follow each other in a turn. A twelfth of a turn behind, as they stand, they change where the flat tops of a trapezoidal voltage meet.", validity = "Exact at each change; no scatter of their places, which faults can add."));
end SectorSensor;
