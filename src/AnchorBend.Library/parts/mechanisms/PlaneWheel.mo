model PlaneWheel "Wheel on level ground"
  PlanePort a "Centre; it turns with the wheel" annotation(__AnchorBend(side = "top"));
  parameter Real r(unit = "m", min = 1e-6) = 0.3 "Radius";
  parameter Real y0(unit = "m") = 0 "Height of the ground";
  parameter Real k(unit = "N/m", min = 1) = 1e5 "Stiffness of the tyre";
  parameter Real d(unit = "N.s/m", min = 0) = 1e3 "Damping of the tyre";
  parameter Real mu(min = 0) = 0.9 "Most friction";
  parameter Real slip0(min = 1e-6) = 0.1 "Slip at which most of the friction is reached";
  parameter Real small(unit = "m/s", min = 1e-6) = 0.1 "Speed below which slip is counted against it";
  parameter Real roll(min = 0) = 0.01 "Coefficient of rolling resistance";
protected
  Real h(unit = "m") "Compression of the tyre";
  Real normal(unit = "N") "Force that holds the wheel up";
  Real drive(unit = "N") "Force along";
  Real slip "Speed of the contact over that of the centre";
  Boolean touches "On the ground";
equation
  h = y0 + r - a.y;
  touches = h > 0;
  normal = if touches then noEvent(max(0, k * h + d * der(h))) else 0;
  slip = (-r * der(a.phi) - der(a.x)) / noEvent(max(abs(der(a.x)), small));
  drive = mu * normal * tanh(slip / slip0);
  a.fx = -drive;
  a.fy = -normal;
  a.t = -(r * drive) + roll * normal * r * tanh(der(a.phi) * r / small);
  annotation(__AnchorBend(scene(kind = "wheel", x = "a.x", y = "a.y", angle = "a.phi", size = "r"), group = "Mechanisms", symbol = "wheel", keywords = "wheel tyre ground slip rolling vehicle plane mechanism", width = 64, height = 64, help = "The tyre carries by its stiffness and pulls by its slip: how much faster its contact moves than its centre. Put it on a body that turns with the wheel. A wheel that rolls towards x turns backwards, as angles count from x towards y.", validity = "Level ground; the tyre's force follows its slip at once; below the small speed slip is counted against that."));
end PlaneWheel;
