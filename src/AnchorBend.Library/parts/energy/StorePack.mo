model StorePack "Pack of cells in series and parallel"
  extends StoreData;
  parameter Integer ns(min = 1, max = 200) = 8 "Cells in series";
  parameter Integer np(min = 1, max = 1000) = 1 "Cells in parallel";
  parameter Real soc0(unit = "1", min = 0, max = 1) = 0.5 "State of charge at the start";
  parameter Real spread(unit = "1", min = 0, max = 0.5) = 0.02 "Capacities differ by up to this part, in equal steps from cell to cell";
  parameter Real uneven(unit = "1", min = 0, max = 0.5) = 0 "States of charge at the start differ by up to this, in equal steps";
  parameter Real Rb(unit = "Ohm", min = 1e-3) = 20 "Resistance that discharges a cell while it is balanced";
  parameter Real C(unit = "J/K", min = 1e-3) = 300 "Heat capacity of a cell";
  parameter Real G(unit = "W/K", min = 0) = 2 "Conductance from a cell to the case";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 1) = 298.15 "Temperature at the start";
  ElectricalPort p "Positive terminal" annotation(__AnchorBend(side = "right"));
  ElectricalPort n "Negative terminal" annotation(__AnchorBend(side = "right"));
  ThermalPort heat "Case" annotation(__AnchorBend(side = "bottom"));
  input Boolean balance[ns] "Cells that are discharged a little" annotation(__AnchorBend(vector = true, side = "top"));
  output Real v[ns](each unit = "V") "Voltages of the cells" annotation(__AnchorBend(vector = true, side = "left"));
  output Real charge(unit = "1") "State of charge of the emptiest cell" annotation(__AnchorBend(side = "left"));
  output Real T(unit = "K") "Temperature of the warmest cell" annotation(__AnchorBend(side = "left"));
  output Real i(unit = "A") "Current that charges" annotation(__AnchorBend(side = "left"));
protected
  StoreCell cell[ns](each branches = branches, each socs = socs, each temps = temps, each ocv = ocv, each R0 = R0, each R1 = R1, each tau1 = tau1, each R2 = R2, each tau2 = tau2, each R3 = R3, each tau3 = tau3, each efficiency = efficiency, each entropy = entropy, each hysteresis = hysteresis, each Vh = Vh, each share = share, each ageing = ageing, each cycles0 = cycles0, each fade = fade, each growth = growth, each np = np, each heatPort = true, Q = {Q * (1 + spread * (2 * (k - 1) / max(1, ns - 1) - 1)) for k in 1:ns}, soc0 = {min(1, max(0, soc0 + uneven * (2 * (k - 1) / max(1, ns - 1) - 1))) for k in 1:ns});
  HeatCapacity mass[ns](each C = C * np, each T0 = T0);
  Conduction way[ns](each G = G * np);
  ElectricalSwitch bleed[ns](each Ron = Rb, each Goff = 1e-9);
equation
  connect(p, cell[1].p);
  connect(cell[ns].n, n);
  for k in 1:ns - 1 loop
    connect(cell[k].n, cell[k + 1].p);
  end for;
  for k in 1:ns loop
    connect(cell[k].p, bleed[k].p);
    connect(cell[k].n, bleed[k].n);
    bleed[k].closed = balance[k];
    connect(cell[k].heat, mass[k].a);
    connect(mass[k].a, way[k].a);
    connect(way[k].b, heat);
    v[k] = cell[k].p.v - cell[k].n.v;
  end for;
  charge = min({cell[k].charge for k in 1:ns});
  T = max({mass[k].a.T for k in 1:ns});
  i = p.i;
  annotation(__AnchorBend(plot = "socs, ocv", group = "Energy stores", symbol = "battery", keywords = "battery pack module series parallel cells spread balancing management", height = 112, width = 96, help = "Cells one behind the other, each of several equal ones side by side, with tables as those of a cell. Their capacities, and their charges at the start, differ in equal steps. Each has its heat capacity and its way to the case, and a resistor that discharges it while it is balanced. The emptiest cell ends a discharge, the fullest one a charge.", validity = "As that of a cell; cells side by side share the current evenly. Heat goes to the case alone, not from cell to cell."));
end StorePack;
