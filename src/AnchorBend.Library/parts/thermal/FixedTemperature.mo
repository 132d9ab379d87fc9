model FixedTemperature "Constant temperature, ambient"
  ThermalPort b "Place" annotation(__AnchorBend(side = "right"));
  parameter Real T(unit = "K", displayUnit = "degC", min = 0) = 293.15 "Temperature";
equation
  b.T = T;
  annotation(__AnchorBend(example(drive = "thermal", near = "b", set(T = "80 degC")), ends = "thermal", endsAs = "Connect a fixed temperature", group = "Thermal", title = "Ambient", symbol = "ambient", keywords = "ambient surroundings fixed temperature reference", width = 64, help = "Keeps its temperature whatever heat flows.", validity = "Any heat flow."));
end FixedTemperature;
