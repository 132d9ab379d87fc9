connector ElectricalPort "Electrical terminal"
  Real v(unit = "V") "Potential";
  flow Real i(unit = "A") "Current into the part";
  annotation(__AnchorBend(domain = "electrical"));
end ElectricalPort;
