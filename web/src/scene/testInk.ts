import type { Ink } from "./drawn";

/** Colours that tests tell apart. */
export const ink: Ink = {
  face: "#ffffff",
  edge: "#000000",
  chosen: "#ff0000",
  quiet: "#cccccc",
  steel: "#888888",
  oil: "#008888",
  water: "#0000ff",
  land: "#ddddcc",
  wood: "#aa7700",
};
