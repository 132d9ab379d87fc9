partial model BetweenFrames "Something between two frames of a plane"
  PlanePort a "First frame" annotation(__AnchorBend(side = "left"));
  PlanePort b "Second frame" annotation(__AnchorBend(side = "right"));
equation
  a.fx + b.fx = 0;
  a.fy + b.fy = 0;
end BetweenFrames;
