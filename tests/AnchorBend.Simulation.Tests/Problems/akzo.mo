model akzo "Chemical reaction with an equilibrium: five slopes and a constraint"
  parameter Real k1=18.7,k2=0.58,k3=0.09,k4=0.42,K=34.4,klA=3.3,Ks=115.83,p=0.9,H=737;
  Real y[6](start={0.444,0.00123,0,0.007,0,0.36});
  Real r1,r2,r3,r4,r5,F;
equation
  r1=k1*y[1]^4*sqrt(y[2]); r2=k2*y[3]*y[4]; r3=k2/K*y[1]*y[5]; r4=k3*y[1]*y[4]^2; r5=k4*y[6]^2*sqrt(y[2]); F=klA*(p/H-y[2]);
  der(y[1])=-2*r1+r2-r3-r4; der(y[2])=-0.5*r1-r4-0.5*r5+F; der(y[3])=r1-r2+r3; der(y[4])=-r2+r3-2*r4; der(y[5])=r2-r3+r5;
  0=Ks*y[1]*y[4]-y[6];
end akzo;
// scale 0.001
// 180.0: 0.1150794920661702 0.1203831471567715e-2 0.1611562887407974 0.3656156421249283e-3 0.1708010885264404e-1 0.4873531310307455e-2
