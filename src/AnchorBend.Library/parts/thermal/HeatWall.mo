model HeatWall "Wall in one or two dimensions"
  type Form = enumeration(plane "Plane", cylinder "Cylindrical, first side within");
  type Material = enumeration(steel "Steel", stainless "Stainless steel", copper "Copper", aluminium "Aluminium", concrete "Concrete", glass "Glass", mineral "Mineral wool", own "Own properties");
  ThermalPort a[N] "First side, cell by cell" annotation(__AnchorBend(side = "left", vector = true));
  ThermalPort b[N] "Second side, cell by cell" annotation(__AnchorBend(side = "right", vector = true));
  parameter Integer N(min = 1, max = 200) = 1 "Cells along";
  parameter Integer K(min = 1, max = 100) = 3 "Cells across";
  parameter Form form = Form.plane "Form";
  parameter Real L(unit = "m", min = 1e-6) = 5 "Length";
  parameter Real W(unit = "m", min = 1e-6) = 0.1 "Width" annotation(__AnchorBend(shown = "form == plane"));
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-6) = 0.03 "Inner diameter" annotation(__AnchorBend(shown = "form == cylinder"));
  parameter Real thick(unit = "m", displayUnit = "mm", min = 1e-7) = 0.003 "Thickness";
  parameter Material material = Material.steel "Material";
  parameter Real rho(unit = "kg/m3", min = 1e-3) = 7850 "Density" annotation(__AnchorBend(shown = "material == own"));
  parameter Real c(unit = "J/(kg.K)", min = 1e-3) = 460 "Specific heat" annotation(__AnchorBend(shown = "material == own"));
  parameter Real k(unit = "W/(m.K)", min = 1e-6) = 50 "Conductivity at 20 °C" annotation(__AnchorBend(shown = "material == own"));
  parameter Real rising(unit = "1/K") = 0 "Growth of the conductivity by temperature, a share a kelvin" annotation(__AnchorBend(shown = "material == own"));
  parameter Boolean along = false "Heat is conducted along too: two dimensions";
  parameter Boolean heated = false "Heat made in the wall comes from a signal";
  input Real u(unit = "W") = 0 "Heat made in the wall" annotation(__AnchorBend(optional = "heated", side = "top"));
  parameter Real T0(unit = "K", displayUnit = "degC", min = 0) = 293.15 "Start temperature";
  parameter Boolean hold = true "The start temperature must hold (otherwise it is a guess)";
protected
  constant Real pi = 3.141592653589793;
  parameter Real density(unit = "kg/m3") = if material == Material.steel then 7850 elseif material == Material.stainless then 7900 elseif material == Material.copper then 8930 elseif material == Material.aluminium then 2700 elseif material == Material.concrete then 2300 elseif material == Material.glass then 2500 elseif material == Material.mineral then 80 else rho;
  parameter Real capacity(unit = "J/(kg.K)") = if material == Material.steel then 460 elseif material == Material.stainless then 500 elseif material == Material.copper then 385 elseif material == Material.aluminium then 900 elseif material == Material.concrete then 900 elseif material == Material.glass then 800 elseif material == Material.mineral then 840 else c;
  parameter Real conductivity(unit = "W/(m.K)") = if material == Material.steel then 50 elseif material == Material.stainless then 15 elseif material == Material.copper then 390 elseif material == Material.aluminium then 237 elseif material == Material.concrete then 1.6 elseif material == Material.glass then 1.0 elseif material == Material.mineral then 0.036 else k;
  parameter Real growth(unit = "1/K") = if material == Material.steel then -4e-4 elseif material == Material.stainless then 1.1e-3 elseif material == Material.copper then -1.7e-4 elseif material == Material.mineral then 4e-3 elseif material == Material.own then rising else 0;
  parameter Real r0(unit = "m") = D / 2 "Inner radius";
  parameter Real edge[K + 1](each unit = "m") = {thick * (i - 1) / K for i in 1:K + 1} "Borders of the cells across, from the first side";
  parameter Real mid[K](each unit = "m") = {thick * (i - 0.5) / K for i in 1:K} "Middles of the cells across";
  parameter Real section[K](each unit = "m2") = {if form == Form.plane then W * thick / K else pi * ((r0 + edge[i + 1]) ^ 2 - (r0 + edge[i]) ^ 2) for i in 1:K} "Cross-sections of the cells, seen along";
  parameter Real first[K + 1](each unit = "1") = {if form == Form.plane then W / (if i == 1 or i == K + 1 then thick / (2 * K) else thick / K) else 2 * pi / log((r0 + (if i == K + 1 then thick else mid[min(K, i)])) / (r0 + (if i == 1 then 0 else mid[max(1, i - 1)]))) for i in 1:K + 1} "Conductance across by conductivity and length";
  Real T[N, K](each unit = "K", each displayUnit = "degC", each start = T0, each fixed = hold, each nominal = 300) "Temperature";
  Real across[N, K + 1](each unit = "W") "Heat flow across, from the first side";
  Real beside[N + 1, K](each unit = "W") "Heat flow along";
equation
  for i in 1:N loop
    for j in 1:K + 1 loop
      across[i, j] = conductivity * (1 + growth * ((if j == 1 then 0.5 * (a[i].T + T[i, 1]) elseif j == K + 1 then 0.5 * (T[i, K] + b[i].T) else 0.5 * (T[i, max(1, j - 1)] + T[i, min(K, j)])) - 293.15)) * first[j] * L / N * ((if j == 1 then a[i].T else T[i, max(1, j - 1)]) - (if j == K + 1 then b[i].T else T[i, min(K, j)]));
    end for;
    for j in 1:K loop
      density * capacity * section[j] * L / N * der(T[i, j]) = across[i, j] - across[i, j + 1] + beside[i, j] - beside[i + 1, j] + u * section[j] / (N * sum(section));
    end for;
    a[i].Q = across[i, 1];
    b[i].Q = -across[i, K + 1];
  end for;
  for j in 1:K loop
    beside[1, j] = 0;
    beside[N + 1, j] = 0;
    for i in 2:N loop
      beside[i, j] = if along then conductivity * (1 + growth * (0.5 * (T[i - 1, j] + T[i, j]) - 293.15)) * section[j] * N / L * (T[i - 1, j] - T[i, j]) else 0;
    end for;
  end for;
  annotation(__AnchorBend(group = "Thermal", symbol = "conduction", keywords = "wall conduction layer two dimensions cylinder pipe insulation material heat structure", width = 64, height = 64, help = "Cells of a plane or cylindrical wall that conduct across, and along where wanted. Conductivity changes with temperature. Its sides join the cells of pipes one by one; a side that nothing is connected to is insulated. Several walls in a row are layers.", validity = "Properties at 20 °C from common tables, conductivity linear in temperature; no contact resistance."));
end HeatWall;
