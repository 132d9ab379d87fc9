model B Real a(start=1,fixed=true),b,v(start=1,fixed=true),w,f; equation der(a)=v; der(b)=w; 2*der(v)=-f-10*a; 3*der(w)=f; a=b; when a<0 then reinit(v,2); end when; end B;
