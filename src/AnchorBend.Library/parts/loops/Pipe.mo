model Pipe "Pipe"
  FluidPort a "First end" annotation(__AnchorBend(side = "left"));
  FluidPort b "Second end" annotation(__AnchorBend(side = "right"));
  ThermalPort heat[N] if heatPort "Wall, cell by cell" annotation(__AnchorBend(side = "bottom", optional = "heatPort", vector = true));
  parameter Integer N(min = 1, max = 1000) = 4 "Cells";
  parameter Real L(unit = "m", min = 1e-6) = 5 "Length";
  parameter Real D(unit = "m", displayUnit = "mm", min = 1e-6) = 0.03 "Inner diameter";
  parameter Real rough(unit = "m", displayUnit = "mm", min = 0) = 5e-5 "Roughness of the wall";
  parameter Real zeta(unit = "1", min = 0) = 0 "Further losses, of bends and fittings";
  parameter Real rise(unit = "m") = 0 "How much higher the second end lies";
  parameter Boolean inertia = false "The fluid has inertia: pressure waves";
  parameter Boolean heatPort = false "Show heat ports";
  parameter Boolean given = false "The heat transfer coefficient is given" annotation(__AnchorBend(shown = "heatPort"));
  parameter Real alpha(unit = "W/(m2.K)", min = 0) = 1000 "Heat transfer coefficient" annotation(__AnchorBend(shown = "heatPort and given"));
  parameter Boolean heated = false "Heat made in the fluid comes from a signal";
  input Real u(unit = "W") = 0 "Heat made in the fluid, over the whole length" annotation(__AnchorBend(optional = "heated", side = "top"));
  parameter Boolean substances = false "Trace substances are made, held or let through here";
  parameter Real made[a.traces](each unit = "kg/s") = zeros(a.traces) "Trace substances made, over the whole length" annotation(__AnchorBend(shown = "substances"));
  parameter Real held[a.traces](each unit = "kg", each min = 0) = zeros(a.traces) "What the wall holds of them by their share in the fluid" annotation(__AnchorBend(shown = "substances"));
  parameter Real uptake(unit = "1/s", min = 0) = 0.1 "Rate at which the wall takes up and gives back" annotation(__AnchorBend(shown = "substances"));
  parameter Real through[a.traces](each unit = "kg/s", each min = 0) = zeros(a.traces) "What passes the wall by the difference of shares" annotation(__AnchorBend(shown = "substances"));
  parameter Real outside[a.traces](each unit = "kg/kg", each min = 0) = zeros(a.traces) "Share beyond the wall" annotation(__AnchorBend(shown = "substances"));
  parameter Real p0(unit = "Pa", displayUnit = "bar", min = 1) = a.p0 "Start pressure";
  parameter Real T0(unit = "K", displayUnit = "degC", min = 50) = a.T0 "Start temperature";
  parameter Real m0(unit = "kg/s") = 0 "Start flow" annotation(__AnchorBend(shown = "inertia"));
  parameter Boolean hold = true "The start values must hold (otherwise they are guesses)";
protected
  constant Real g(unit = "m/s2") = 9.80665 "Gravity";
  parameter Real area(unit = "m2") = 3.141592653589793 / 4 * D ^ 2 "Cross-section";
  parameter Real V(unit = "m3") = area * L / N "Volume of a cell";
  parameter Real h0(unit = "J/kg") = fluidEnthalpy(a.medium, a.share, p0, T0) "Specific enthalpy at the start";
  parameter Real d0(unit = "kg/m3") = fluidDensity(a.medium, a.share, p0, h0) "Density at the start";
  Real x[N](each unit = "kg", each start = 0, each fixed = hold, each nominal = 10 * V * d0) "Mass of a cell beyond that of the start";
  Real U[N](each unit = "J", each start = V * (d0 * h0 - p0), each fixed = hold, each nominal = 1e5) "Internal energy of a cell";
  Real Z[N, a.traces](each unit = "kg", each start = 0, each fixed = hold) "Mass of trace substances in a cell";
  Real S[N, a.traces](each unit = "kg", each start = 0, each fixed = hold) "Mass of trace substances on the wall of a cell";
  Real p[N](each unit = "Pa", each displayUnit = "bar", each start = p0, each nominal = 1e5) "Pressure";
  Real T[N](each unit = "K", each displayUnit = "degC", each start = T0, each nominal = 300) "Temperature";
  Real h[N](each unit = "J/kg", each displayUnit = "kJ/kg", each start = h0, each nominal = 1e5) "Specific enthalpy";
  Real d[N](each unit = "kg/m3", each start = d0, each nominal = 1000) "Density";
  Real mu[N](each unit = "Pa.s", each nominal = 1e-3) "Viscosity";
  Real c[N, a.traces](each unit = "kg/kg") "Trace substances";
  Real m[N + 1](each unit = "kg/s", each start = m0, fixed = {inertia and hold and i > 1 and i < N + 1 for i in 1:N + 1}, each nominal = 1) "Mass flow between cells, from a to b";
  Real drop[N + 1](each unit = "Pa", each nominal = 1e3) "Pressure that friction takes";
  Real Q[N](each unit = "W") "Heat from the wall";
  Real lambda[N](each unit = "W/(m.K)") "Thermal conductivity";
  Real prandtl[N](each unit = "1") "Prandtl number";
  Real reynolds[N](each unit = "1") "Reynolds number, with the sign of the flow";
  Real film[N](each unit = "W/(m2.K)") "Heat transfer coefficient";
  parameter Real part[N + 1](each unit = "1") = {if i == 1 or i == N + 1 then 0.5 / N else 1 / N for i in 1:N + 1} "Share of the length between two cells";
  parameter Real longer(unit = "1") = 1 + zeta * D / (0.03 * L) "Length with fittings, at a friction factor of 0.03";
equation
  for i in 1:N loop
    d[i] = d0 + x[i] / V;
    p[i] = fluidPressure(a.medium, a.share, d[i], U[i] / (V * d[i]));
    h[i] = U[i] / (V * d[i]) + p[i] / d[i];
    T[i] = fluidTemperature(a.medium, a.share, p[i], h[i]);
    mu[i] = fluidViscosity(a.medium, a.share, p[i], h[i]);
    der(x[i]) = m[i] - m[i + 1];
    der(U[i]) = m[i] * carried(m[i], if i == 1 then inStream(a.h) else h[max(1, i - 1)], h[i]) - m[i + 1] * carried(m[i + 1], h[i], if i == N then inStream(b.h) else h[min(N, i + 1)]) + Q[i] + u / N;
    for k in 1:a.traces loop
      Z[i, k] = V * d[i] * c[i, k];
      der(Z[i, k]) = m[i] * carried(m[i], if i == 1 then inStream(a.c[k]) else c[max(1, i - 1), k], c[i, k]) - m[i + 1] * carried(m[i + 1], c[i, k], if i == N then inStream(b.c[k]) else c[min(N, i + 1), k]) - a.decay[k] * Z[i, k] + made[k] / N - der(S[i, k]) - a.decay[k] * S[i, k] - through[k] / N * (c[i, k] - outside[k]);
      der(S[i, k]) = (if substances then uptake * (held[k] / N * c[i, k] - S[i, k]) else 0) - a.decay[k] * S[i, k];
    end for;
    assert(fluidBeyond(a.medium, a.share, p[i], h[i]) < 0.5, "The fluid is not described at this pressure and temperature.", AssertionLevel.warning);
  end for;
  for i in 1:N + 1 loop
    m[i] = area / D * 0.5 * (mu[max(1, i - 1)] + mu[min(N, i)]) * pipeReynolds(2 * drop[i] * 0.5 * (d[max(1, i - 1)] + d[min(N, i)]) * D ^ 3 / (part[i] * L * longer * (0.5 * (mu[max(1, i - 1)] + mu[min(N, i)])) ^ 2), rough / D);
    if inertia then
      part[i] * L / area * der(m[i]) = (if i == 1 then a.p else p[max(1, i - 1)]) - (if i == N + 1 then b.p else p[min(N, i)]) - drop[i] - 0.5 * (d[max(1, i - 1)] + d[min(N, i)]) * g * rise * part[i];
    else
      drop[i] = (if i == 1 then a.p else p[max(1, i - 1)]) - (if i == N + 1 then b.p else p[min(N, i)]) - 0.5 * (d[max(1, i - 1)] + d[min(N, i)]) * g * rise * part[i];
    end if;
  end for;
  a.m = m[1];
  b.m = -m[N + 1];
  a.h = h[1];
  b.h = h[N];
  for k in 1:a.traces loop
    a.c[k] = c[1, k];
    b.c[k] = c[N, k];
  end for;
  if heatPort then
    for i in 1:N loop
      heat[i].Q = Q[i];
      Q[i] = 3.141592653589793 * D * L / N * film[i] * (heat[i].T - T[i]);
      lambda[i] = fluidConductivity(a.medium, a.share, p[i], h[i]);
      prandtl[i] = fluidHeatCapacity(a.medium, a.share, p[i], h[i]) * mu[i] / lambda[i];
      reynolds[i] = 0.5 * (m[i] + m[i + 1]) * D / (area * mu[i]);
      film[i] = if given then alpha else pipeNusselt(reynolds[i], prandtl[i], D / L) * lambda[i] / D;
    end for;
  else
    Q = zeros(N);
    lambda = zeros(N);
    prandtl = zeros(N);
    reynolds = zeros(N);
    film = zeros(N);
  end if;
  Connections.branch(a, b);
  annotation(__AnchorBend(group = "Fluid loops", symbol = "pipe", keywords = "pipe tube line duct leg loop friction heat water hammer riser", width = 96, help = "Cells of fluid with friction between them: laminar below a Reynolds number of 2000, turbulent with roughness from 4000 on (Colebrook), smooth between. What flows carries the enthalpy and the trace substances of where it comes from. Without inertia pressures follow at once; with it waves run at the speed of sound. Heat passes by Gnielinski's correlation or a given coefficient. Trace substances decay, are made, held by the wall and let through it where wanted.", validity = "One-dimensional; the energy of motion is neglected; fittings by an equivalent length; heat transfer of one phase, of wet steam as if mixed: boiling at the wall passes more."));
end Pipe;
