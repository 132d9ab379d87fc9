block CurrentControl "Control of two currents in a turning frame"
  type Law = enumeration(pi "Proportional and integral", rejecting "Disturbance-rejecting");
  input Real r[2](each unit = "A") "Currents wanted along and across" annotation(__AnchorBend(vector = true));
  input Real i[2](each unit = "A") "Currents along and across" annotation(__AnchorBend(vector = true));
  input Real w(unit = "rad/s") "Electrical speed" annotation(__AnchorBend(side = "bottom"));
  input Real vdc(unit = "V") "Voltage between the rails" annotation(__AnchorBend(side = "bottom"));
  output Real u[2](each unit = "V") "Voltages along and across" annotation(__AnchorBend(vector = true));
  parameter Law law = Law.pi "Law";
  parameter Real wc(unit = "rad/s", min = 1e-9) = 2000 "Bandwidth of the closed loops";
  parameter Real R(unit = "Ohm", min = 1e-9) = 0.2 "Resistance of a phase";
  parameter Real Ld(unit = "H", min = 1e-12) = 1e-3 "Inductance along the magnets";
  parameter Real Lq(unit = "H", min = 1e-12) = 1e-3 "Inductance across the magnets";
  parameter Real flux(unit = "Wb") = 0.05 "Flux of the magnets in a phase";
  parameter Boolean decoupled = true "Adds what the turning induces";
  parameter Real ratio(min = 1) = 4 "Observer bandwidth over that of the closed loops" annotation(__AnchorBend(shown = "law == rejecting"));
protected
  parameter Real tiny(unit = "V") = 1e-9 "Keeps the length of no voltage smooth";
  parameter Boolean rejects = law == Law.rejecting "Disturbances are estimated";
  parameter Real L[2](each unit = "H") = {Ld, Lq} "Inductances";
  Real x[2](each unit = "V", each start = 0) "Integral parts";
  Real z[2](each unit = "A", each start = 0) "Estimated currents";
  Real d[2](each unit = "A/s", each start = 0) "Estimated disturbances";
  Real turning[2](each unit = "V") "What the turning induces";
  Real wanted[2](each unit = "V") "Voltages before their limit";
  Real most(unit = "V") "Longest voltage";
  Real size(unit = "V") "Length of the wanted voltage";
  Real share "Part of it that there is";
equation
  turning[1] = if decoupled then -w * Lq * i[2] else 0;
  turning[2] = if decoupled then w * (Ld * i[1] + flux) else 0;
  most = noEvent(max(vdc, 0)) / sqrt(3);
  size = sqrt(wanted[1] ^ 2 + wanted[2] ^ 2 + tiny ^ 2);
  share = if noEvent(size > most) then most / size else 1;
  for j in 1:2 loop
    wanted[j] = turning[j] + (if rejects then L[j] * (wc * (r[j] - z[j]) - d[j]) else L[j] * wc * (r[j] - i[j]) + x[j]);
    u[j] = share * wanted[j];
    der(x[j]) = if rejects then 0 else R * wc * (r[j] - i[j]) + wc * (u[j] - wanted[j]);
    der(z[j]) = if rejects then (u[j] - turning[j]) / L[j] + d[j] + 2 * ratio * wc * (i[j] - z[j]) else 0;
    der(d[j]) = if rejects then (ratio * wc) ^ 2 * (i[j] - z[j]) else 0;
  end for;
  annotation(__AnchorBend(choiceWords = true, group = "Drives", symbol = "loop", keywords = "current control loop dq field oriented PI decoupling voltage limit anti-windup disturbance rejecting", height = 96, width = 96, help = "Two loops that see each winding as resistance and inductance. Proportional gain ω_c L and integral gain ω_c R put the zero on the pole of the winding, so each closed loop is a lag of the bandwidth (L. Harnefors, H.-P. Nee, Model-based current control of AC machines, 1998). Disturbance-rejecting, an observer estimates all but the voltage. What the turning induces is added; the voltage is cut to the rails over the square root of 3, and the integral parts follow what was cut.", validity = "Bandwidths of a tenth of the switching frequency at most; parameters within some tens of per cent."));
end CurrentControl;
