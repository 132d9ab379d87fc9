model SpaceFrame "Frame moved by signals"
  parameter Boolean useX = true "Along from a signal";
  parameter Boolean useY = false "To the side from a signal";
  parameter Boolean useZ = true "Upwards from a signal";
  parameter Boolean useRoll = false "Roll from a signal";
  parameter Boolean usePitch = false "Pitch from a signal";
  parameter Boolean useYaw = false "Yaw from a signal";
  parameter Real x0(unit = "m") = 0 "Place along" annotation(__AnchorBend(shown = "not useX"));
  parameter Real y0(unit = "m") = 0 "Place to the side" annotation(__AnchorBend(shown = "not useY"));
  parameter Real z0(unit = "m") = 0 "Place upwards" annotation(__AnchorBend(shown = "not useZ"));
  parameter Real roll0(unit = "rad", displayUnit = "deg") = 0 "Roll" annotation(__AnchorBend(shown = "not useRoll"));
  parameter Real pitch0(unit = "rad", displayUnit = "deg") = 0 "Pitch" annotation(__AnchorBend(shown = "not usePitch"));
  parameter Real yaw0(unit = "rad", displayUnit = "deg") = 0 "Yaw" annotation(__AnchorBend(shown = "not useYaw"));
  input Real x(unit = "m") = x0 "Place along" annotation(__AnchorBend(optional = "useX"));
  input Real y(unit = "m") = y0 "Place to the side" annotation(__AnchorBend(optional = "useY"));
  input Real z(unit = "m") = z0 "Place upwards" annotation(__AnchorBend(optional = "useZ"));
  input Real roll(unit = "rad") = roll0 "Turn about the axis ahead" annotation(__AnchorBend(optional = "useRoll"));
  input Real pitch(unit = "rad") = pitch0 "Turn about the axis to the side" annotation(__AnchorBend(optional = "usePitch"));
  input Real yaw(unit = "rad") = yaw0 "Turn about the axis upwards" annotation(__AnchorBend(optional = "useYaw"));
protected
  Real r[3](each unit = "m") "Place";
  Real q[4] "Quaternion from the frame to the surroundings";
equation
  r = {x, y, z};
  q[1] = cos(roll / 2) * cos(pitch / 2) * cos(yaw / 2) + sin(roll / 2) * sin(pitch / 2) * sin(yaw / 2);
  q[2] = sin(roll / 2) * cos(pitch / 2) * cos(yaw / 2) - cos(roll / 2) * sin(pitch / 2) * sin(yaw / 2);
  q[3] = cos(roll / 2) * sin(pitch / 2) * cos(yaw / 2) + sin(roll / 2) * cos(pitch / 2) * sin(yaw / 2);
  q[4] = cos(roll / 2) * cos(pitch / 2) * sin(yaw / 2) - sin(roll / 2) * sin(pitch / 2) * cos(yaw / 2);
  annotation(__AnchorBend(scene(kind = "frame", x = "r[1]", y = "r[2]", z = "r[3]", quaternion = "q"), group = "Mechanisms", symbol = "triad", keywords = "frame kinematic scene prop camera shape place attitude roll pitch yaw follow signals picture", width = 80, height = 80, help = "Carries shapes in the scene where signals say, without mass or force: a hull that follows a ship's course, a level that rises, a place for the camera to follow. First yaw about the axis upwards, then pitch, then roll turn it, all to the right hand (ISO 1151-2 for z upwards).", validity = "A picture only: it acts on nothing."));
end SpaceFrame;
