model Convection "Heat transfer to a moving fluid"
  extends BetweenSurfaces;
  parameter Real area(unit = "m2", min = 0) = 1 "Surface";
  parameter Real h(unit = "W/(m2.K)", min = 0) = 10 "Heat transfer coefficient";
  parameter Boolean useSignal = false "The coefficient comes from a signal";
  input Real u(unit = "W/(m2.K)", min = 0) = h "Heat transfer coefficient" annotation(__AnchorBend(optional = "useSignal", side = "top"));
equation
  Q = u * area * (a.T - b.T);
  annotation(__AnchorBend(group = "Thermal", symbol = "convection", keywords = "convection film coefficient cooling fan", help = "Heat transfer coefficient times surface times difference of temperatures.", validity = "The coefficient is that of the state of flow it was taken for."));
end Convection;
