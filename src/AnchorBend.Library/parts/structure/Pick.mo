expandable connector Pick "Takes members out of a bundle"
  annotation(__AnchorBend(group = "Structure", bundle = "pick", members = "a", symbol = "bundle", keywords = "bus bundle select member split names extract signals", width = 40, height = 48, help = "Gives the members named here; of a bundle within the bundle with a dot, as in drive.speed. A member may also be taken out as a bundle.", validity = "A member that is not there is told with the nearest name."));
end Pick;
