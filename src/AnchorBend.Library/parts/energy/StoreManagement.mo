block StoreManagement "Management of an energy store"
  parameter Integer n(min = 1, max = 200) = 1 "Number of cells";
  input Real u(unit = "A") "Current wanted, positive charges" annotation(__AnchorBend(side = "left"));
  input Real v[n](each unit = "V") "Voltages of the cells" annotation(__AnchorBend(vector = true, side = "left"));
  input Real charge(unit = "1") "State of charge" annotation(__AnchorBend(side = "left"));
  input Real T(unit = "K") = 298.15 "Warmest temperature" annotation(__AnchorBend(side = "left", optional = "watchesHeat"));
  output Real y(unit = "A") "Current allowed" annotation(__AnchorBend(side = "right"));
  output Boolean closed "The contactor is closed" annotation(__AnchorBend(side = "right"));
  output Boolean balance[n] "Cells to be discharged a little" annotation(__AnchorBend(vector = true, side = "right"));
  output Integer cause "What limits: 0 nothing, 1 voltage, 2 charge, 3 temperature, 4 current, 5 contactor" annotation(__AnchorBend(side = "right"));
  parameter Real vMax(unit = "V") = 4.15 "Highest voltage of a cell";
  parameter Real vMin(unit = "V", max = vMax) = 3.2 "Lowest voltage of a cell";
  parameter Real band(unit = "V", min = 1e-6) = 0.05 "Over this last part the current is taken back";
  parameter Real margin(unit = "V", min = 1e-6) = 0.1 "Beyond the limits by this the contactor opens";
  parameter Real iCharge(unit = "A", min = 0) = 10 "Most current that charges";
  parameter Real iDischarge(unit = "A", min = 0) = 20 "Most current that discharges";
  parameter Real socMin(unit = "1", min = 0, max = 1) = 0.05 "Least state of charge";
  parameter Real socMax(unit = "1", min = 0, max = 1) = 0.98 "Most state of charge";
  parameter Real socBand(unit = "1", min = 1e-6) = 0.02 "Over this last part the current is taken back";
  parameter Boolean watchesHeat = false "With an input for the temperature";
  parameter Real TMax(unit = "K", displayUnit = "degC") = 328.15 "Highest temperature" annotation(__AnchorBend(shown = "watchesHeat"));
  parameter Real TMin(unit = "K", displayUnit = "degC") = 273.15 "Lowest temperature for charging" annotation(__AnchorBend(shown = "watchesHeat"));
  parameter Real TBand(unit = "K", min = 1e-3) = 5 "Over this last part the current is taken back" annotation(__AnchorBend(shown = "watchesHeat"));
  parameter Real apart(unit = "V", min = 1e-6) = 0.005 "Cells that stand this far above the lowest are balanced";
  parameter Real from(unit = "V") = 3.6 "Voltage from which on cells are balanced";
  parameter Real Tb(unit = "s", min = 1e-3) = 1 "Time between decisions about balancing and about what limits";
protected
  constant Real cold(unit = "K") = 298.15;
  Real lowest(unit = "V") "Lowest voltage";
  Real highest(unit = "V") "Highest voltage";
  Real upV "Share of the charging current that the voltage allows";
  Real downV "Share of the discharging current that the voltage allows";
  Real upQ "Share of the charging current that the charge allows";
  Real downQ "Share of the discharging current that the charge allows";
  Real upT "Share of the charging current that the temperature allows";
  Real downT "Share of the discharging current that the temperature allows";
  Real up "Share of the charging current";
  Real down "Share of the discharging current";
  Real allowed(unit = "A") "Current within its limits";
  discrete Boolean decided[n](each start = false, each fixed = true) "Cells that stand too high";
  discrete Integer reason(start = 0, fixed = true) "What limits";
  discrete Boolean tripped(start = false, fixed = true) "The contactor has opened";
equation
  lowest = min(v);
  highest = max(v);
  upV = noEvent(max(0, min(1, (vMax - highest) / band)));
  downV = noEvent(max(0, min(1, (lowest - vMin) / band)));
  upQ = noEvent(max(0, min(1, (socMax - charge) / socBand)));
  downQ = noEvent(max(0, min(1, (charge - socMin) / socBand)));
  upT = if watchesHeat then noEvent(max(0, min(1, min((TMax - T) / TBand, (T - TMin) / TBand)))) else 1;
  downT = if watchesHeat then noEvent(max(0, min(1, (TMax - T) / TBand))) else 1;
  up = noEvent(min(upV, min(upQ, upT)));
  down = noEvent(min(downV, min(downQ, downT)));
  allowed = noEvent(max(-down * iDischarge, min(up * iCharge, u)));
  when {highest > vMax + margin, lowest < vMin - margin, T > TMax + TBand and watchesHeat} then
    tripped = true;
  end when;
  closed = not pre(tripped);
  y = if closed then allowed else 0;
  when sample(0, Tb) then
    reason = noEvent(if tripped then 5 elseif allowed == u then 0 elseif up >= 1 and u > 0 or down >= 1 and u < 0 then 4 elseif u > 0 and up == upV or u < 0 and down == downV then 1 elseif u > 0 and up == upQ or u < 0 and down == downQ then 2 else 3);
    for k in 1:n loop
      decided[k] = noEvent(v[k] > lowest + apart and v[k] > from);
    end for;
  end when;
  cause = pre(reason);
  for k in 1:n loop
    balance[k] = pre(decided[k]);
  end for;
  annotation(__AnchorBend(group = "Energy stores", symbol = "gauge", keywords = "battery management system BMS limits voltage current temperature balancing contactor state of charge derating", height = 128, width = 96, help = "Takes the wanted current back before a limit of voltage, charge or temperature is reached, in proportion over the last part of the way, and says which limit it is. A little beyond, the contactor opens and stays open. Cells that stand above the lowest one are balanced.", validity = "The current must follow what is allowed at once or nearly so; near a limit it acts as a proportional control with the cell's own resistance."));
end StoreManagement;
