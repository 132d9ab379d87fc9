expandable connector BundlePort "Bundle port of a level"
  annotation(__AnchorBend(port = "bundle", bundle = "join", members = "", symbol = "bundle", keywords = "port level boundary bundle", width = 48, height = 32, help = "Carries a bundle across the boundary of this level, either way, member by member."));
end BundlePort;
