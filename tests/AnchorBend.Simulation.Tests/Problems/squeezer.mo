model squeezer "Andrews' squeezing mechanism"
  parameter Real m1=.04325, m2=.00365, m3=.02373, m4=.00706, m5=.07050, m6=.00706, m7=.05498;
  parameter Real xa=-.06934, ya=-.00227, xb=-0.03635, yb=.03273, xc=.014, yc=.072, c0=4530;
  parameter Real i1=2.194e-6, i2=4.410e-7, i3=5.255e-6, i4=5.667e-7, i5=1.169e-5, i6=5.667e-7, i7=1.912e-5;
  parameter Real d=28e-3, da=115e-4, e=2e-2, ea=1421e-5, rr=7e-3, ra=92e-5, l0=7785e-5, ss=35e-3, sa=1874e-5, sb=1043e-5, sc=18e-3, sd=2e-2, ta=2308e-5, tb=916e-5, u=4e-2, ua=1228e-5, ub=449e-5, zf=2e-2, zt=4e-2, fa=1421e-5, mom=33e-3;
  Real y[7](start = {-0.0617138900142764496, 0, 0.455279819163070380, 0.222668390165885885, 0.487364979543842550, -0.222668390165885885, 1.23054744454982119});
  Real bep, thp, gap, php, dep, omp, epp, xd, yd, lang, force, fx, fy, la[6];
initial equation
  y[2] = 0;
  thp = 0;
equation
  der(y[1])=bep; der(y[2])=thp; der(y[3])=gap; der(y[4])=php; der(y[5])=dep; der(y[6])=omp; der(y[7])=epp;
  xd = sd*cos(y[3]) + sc*sin(y[3]) + xb; yd = sd*sin(y[3]) - sc*cos(y[3]) + yb;
  lang = sqrt((xd-xc)^2+(yd-yc)^2); force = -c0*(lang-l0)/lang; fx = force*(xd-xc); fy = force*(yd-yc);
  (m1*ra^2 + m2*(rr^2 - 2*da*rr*cos(y[2]) + da^2) + i1 + i2)*der(bep) + (m2*(da^2 - da*rr*cos(y[2])) + i2)*der(thp) = mom - m2*da*rr*thp*(thp+2*bep)*sin(y[2])
     - ((-rr*sin(y[1])+d*sin(y[1]+y[2]))*(la[1]+la[3]+la[5]) + (rr*cos(y[1])-d*cos(y[1]+y[2]))*(la[2]+la[4]+la[6]));
  (m2*(da^2 - da*rr*cos(y[2])) + i2)*der(bep) + (m2*da^2+i2)*der(thp) = m2*da*rr*bep^2*sin(y[2]) - (d*sin(y[1]+y[2])*(la[1]+la[3]+la[5]) - d*cos(y[1]+y[2])*(la[2]+la[4]+la[6]));
  (m3*(sa^2+sb^2)+i3)*der(gap) = fx*(sc*cos(y[3]) - sd*sin(y[3])) + fy*(sd*cos(y[3])+sc*sin(y[3])) - (-ss*cos(y[3])*la[1] - ss*sin(y[3])*la[2]);
  (m4*(e-ea)^2+i4)*der(php) + (m4*((e-ea)^2 + zt*(e-ea)*sin(y[4])) + i4)*der(dep) = m4*zt*(e-ea)*dep^2*cos(y[4]) - (-e*cos(y[4]+y[5])*la[3] - e*sin(y[4]+y[5])*la[4]);
  (m4*((e-ea)^2 + zt*(e-ea)*sin(y[4])) + i4)*der(php) + (m4*(zt^2 + 2*zt*(e-ea)*sin(y[4]) + (e-ea)^2) + m5*(ta^2+tb^2) + i4 + i5)*der(dep) = -m4*zt*(e-ea)*php*(php+2*dep)*cos(y[4])
     - ((-e*cos(y[4]+y[5])+zt*sin(y[5]))*la[3] + (-e*sin(y[4]+y[5])-zt*cos(y[5]))*la[4]);
  (m6*(zf-fa)^2+i6)*der(omp) + (m6*((zf-fa)^2 - u*(zf-fa)*sin(y[6])) + i6)*der(epp) = -m6*u*(zf-fa)*epp^2*cos(y[6]) - (zf*sin(y[6]+y[7])*la[5] - zf*cos(y[6]+y[7])*la[6]);
  (m6*((zf-fa)^2 - u*(zf-fa)*sin(y[6])) + i6)*der(omp) + (m6*((zf-fa)^2 - 2*u*(zf-fa)*sin(y[6]) + u^2) + m7*(ua^2+ub^2) + i6 + i7)*der(epp) = m6*u*(zf-fa)*omp*(omp+2*epp)*cos(y[6])
     - ((zf*sin(y[6]+y[7])-u*cos(y[7]))*la[5] + (-zf*cos(y[6]+y[7])-u*sin(y[7]))*la[6]);
  0 = rr*cos(y[1]) - d*cos(y[1]+y[2]) - ss*sin(y[3]) - xb;
  0 = rr*sin(y[1]) - d*sin(y[1]+y[2]) + ss*cos(y[3]) - yb;
  0 = rr*cos(y[1]) - d*cos(y[1]+y[2]) - e*sin(y[4]+y[5]) - zt*cos(y[5]) - xa;
  0 = rr*sin(y[1]) - d*sin(y[1]+y[2]) + e*cos(y[4]+y[5]) - zt*sin(y[5]) - ya;
  0 = rr*cos(y[1]) - d*cos(y[1]+y[2]) - zf*cos(y[6]+y[7]) - u*sin(y[7]) - xa;
  0 = rr*sin(y[1]) - d*sin(y[1]+y[2]) - zf*sin(y[6]+y[7]) + u*cos(y[7]) - ya;
end squeezer;
// scale 1
// 0.03: 15.81077119629904 -15.75637105984298 0.04082224013073101 -0.5347301163226948 0.5244099658805304 0.5347301163226948 1.048080741042263
