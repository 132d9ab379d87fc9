model axle "A car axis on an uneven road"
  parameter Real eps=0.01, M=10, L=1, L0=0.5, r=0.1, w=10;
  Real y[4](start = {0, 0.5, 1, 0.5}, fixed = {false, true, false, true}), ul(start=-0.5), vl(start=0,fixed=true), ur(start=-0.5), vr(start=0,fixed=true), xb, yb, Ll, Lr, l1, l2;
equation
  yb = r*sin(w*time); xb = sqrt(L^2-yb^2); Ll = sqrt(y[1]^2+y[2]^2); Lr = sqrt((y[3]-xb)^2+(y[4]-yb)^2);
  der(y[1])=ul; der(y[2])=vl; der(y[3])=ur; der(y[4])=vr;
  eps^2*M/2*der(ul) = (L0-Ll)*y[1]/Ll + l1*xb + 2*l2*(y[1]-y[3]);
  eps^2*M/2*der(vl) = (L0-Ll)*y[2]/Ll + l1*yb + 2*l2*(y[2]-y[4]) - eps^2*M/2;
  eps^2*M/2*der(ur) = (L0-Lr)*(y[3]-xb)/Lr - 2*l2*(y[1]-y[3]);
  eps^2*M/2*der(vr) = (L0-Lr)*(y[4]-yb)/Lr - 2*l2*(y[2]-y[4]) - eps^2*M/2;
  0 = y[1]*xb + y[2]*yb; 0 = (y[1]-y[3])^2+(y[2]-y[4])^2 - L^2;
end axle;
// scale 1
// 3: 0.04934557842755629 0.4969894602303324 1.041742524885400 0.3739110272652214
