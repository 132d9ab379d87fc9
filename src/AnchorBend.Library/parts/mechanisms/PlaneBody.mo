model PlaneBody "Body in a plane"
  PlanePort a(x(start = x0), y(start = y0), phi(start = phi0)) "Frame at its first point" annotation(__AnchorBend(side = "left"));
  PlanePort b(x(start = x0 + xb * cos(phi0) - yb * sin(phi0)), y(start = y0 + xb * sin(phi0) + yb * cos(phi0)), phi(start = phi0)) if useB "Frame at its second point" annotation(__AnchorBend(side = "right", optional = "useB"));
  PlanePort c(x(start = x0 + xc * cos(phi0) - yc * sin(phi0)), y(start = y0 + xc * sin(phi0) + yc * cos(phi0)), phi(start = phi0)) if useC "Frame at its third point" annotation(__AnchorBend(side = "top", optional = "useC"));
  PlanePort d(x(start = x0 + xd * cos(phi0) - yd * sin(phi0)), y(start = y0 + xd * sin(phi0) + yd * cos(phi0)), phi(start = phi0)) if useD "Frame at its fourth point" annotation(__AnchorBend(side = "bottom", optional = "useD"));
  parameter Real m(unit = "kg", min = 1e-9) = 1 "Mass";
  parameter Real J(unit = "kg.m2", min = 1e-12) = 0.1 "Inertia about its centre of mass";
  parameter Real xm(unit = "m") = 0.5 "Centre of mass, along from the first point";
  parameter Real ym(unit = "m") = 0 "Centre of mass, across";
  parameter Boolean useB = true "With a second frame";
  parameter Real xb(unit = "m") = 1 "Second point, along" annotation(__AnchorBend(shown = "useB"));
  parameter Real yb(unit = "m") = 0 "Second point, across" annotation(__AnchorBend(shown = "useB"));
  parameter Boolean useC = false "With a third frame";
  parameter Real xc(unit = "m") = 0.5 "Third point, along" annotation(__AnchorBend(shown = "useC"));
  parameter Real yc(unit = "m") = 0 "Third point, across" annotation(__AnchorBend(shown = "useC"));
  parameter Boolean useD = false "With a fourth frame";
  parameter Real xd(unit = "m") = 0.5 "Fourth point, along" annotation(__AnchorBend(shown = "useD"));
  parameter Real yd(unit = "m") = 0 "Fourth point, across" annotation(__AnchorBend(shown = "useD"));
  parameter Real g(unit = "m/s2") = 9.81 "Gravity, downwards";
  parameter Real thick(unit = "m", min = 0) = 0.1 "Thickness that the scene shows";
  parameter Boolean hold = false "The start values of place, angle and speeds must hold (otherwise they are guesses)";
  parameter Real x0(unit = "m") = 0 "Start, along";
  parameter Real y0(unit = "m") = 0 "Start, upwards";
  parameter Real phi0(unit = "rad", displayUnit = "deg") = 0 "Start angle";
  parameter Real vx0(unit = "m/s") = 0 "Start speed, along";
  parameter Real vy0(unit = "m/s") = 0 "Start speed, upwards";
  parameter Real w0(unit = "rad/s") = 0 "Start speed of turning";
protected
  Real x(unit = "m", stateSelect = StateSelect.avoid, start = x0 + xm * cos(phi0) - ym * sin(phi0), fixed = hold) "Centre of mass, along";
  Real y(unit = "m", stateSelect = StateSelect.avoid, start = y0 + xm * sin(phi0) + ym * cos(phi0), fixed = hold) "Centre of mass, upwards";
  Real phi(unit = "rad", displayUnit = "deg", start = phi0, fixed = hold) "Angle";
  Real vx(unit = "m/s", stateSelect = StateSelect.avoid, start = vx0, fixed = hold) "Speed, along";
  Real vy(unit = "m/s", stateSelect = StateSelect.avoid, start = vy0, fixed = hold) "Speed, upwards";
  Real w(unit = "rad/s", start = w0, fixed = hold) "Speed of turning";
  Real co(stateSelect = StateSelect.never) "Cosine of the angle";
  Real si(stateSelect = StateSelect.never) "Sine of the angle";
  Real fx[4](each unit = "N") "Forces of the frames, along";
  Real fy[4](each unit = "N") "Forces of the frames, upwards";
  Real ts[4](each unit = "N.m") "Torques of the frames about the centre of mass";
equation
  co = cos(phi);
  si = sin(phi);
  a.x = x - xm * co + ym * si;
  a.y = y - xm * si - ym * co;
  a.phi = phi;
  fx[1] = a.fx;
  fy[1] = a.fy;
  ts[1] = a.t + (a.x - x) * a.fy - (a.y - y) * a.fx;
  if useB then
    b.x = x + (xb - xm) * co - (yb - ym) * si;
    b.y = y + (xb - xm) * si + (yb - ym) * co;
    b.phi = phi;
    fx[2] = b.fx;
    fy[2] = b.fy;
    ts[2] = b.t + (b.x - x) * b.fy - (b.y - y) * b.fx;
  else
    fx[2] = 0;
    fy[2] = 0;
    ts[2] = 0;
  end if;
  if useC then
    c.x = x + (xc - xm) * co - (yc - ym) * si;
    c.y = y + (xc - xm) * si + (yc - ym) * co;
    c.phi = phi;
    fx[3] = c.fx;
    fy[3] = c.fy;
    ts[3] = c.t + (c.x - x) * c.fy - (c.y - y) * c.fx;
  else
    fx[3] = 0;
    fy[3] = 0;
    ts[3] = 0;
  end if;
  if useD then
    d.x = x + (xd - xm) * co - (yd - ym) * si;
    d.y = y + (xd - xm) * si + (yd - ym) * co;
    d.phi = phi;
    fx[4] = d.fx;
    fy[4] = d.fy;
    ts[4] = d.t + (d.x - x) * d.fy - (d.y - y) * d.fx;
  else
    fx[4] = 0;
    fy[4] = 0;
    ts[4] = 0;
  end if;
  der(x) = vx;
  der(y) = vy;
  der(phi) = w;
  m * der(vx) = sum(fx);
  m * der(vy) = sum(fy) - m * g;
  J * der(w) = sum(ts);
  annotation(__AnchorBend(example(load = "plane", near = "a", apart = "x0"), scene(kind = "body", x = "a.x", y = "a.y", angle = "a.phi", points = "xb,yb,useB xc,yc,useC xd,yd,useD", centre = "xm,ym", thick = "thick", forces = "a b,useB c,useC d,useD"), group = "Mechanisms", symbol = "beam", keywords = "body link beam arm rigid plane mechanism mass inertia pins", width = 96, height = 48, help = "A rigid body with up to four frames, at points measured from its first one, along and across. Forces and torques at its frames and gravity move its centre of mass and turn it (Newton and Euler).", validity = "Rigid, in one plane; gravity downwards, the same everywhere."));
end PlaneBody;
