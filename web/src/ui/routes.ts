import { navigate } from "wouter/use-hash-location";

/** The page of a model, with the stage and the level that it shows. */
export const modelRoute = "/models/:id/*?";

/** The same page, where the model is only looked at. */
export const lookRoute = "/look/:id/*?";

/** The stage and the level that the rest of an address names. */
export function placeOf(rest: string | undefined): { stage: string; level: string } {
  const [stage = "", ...level] = (rest ?? "").split("/").filter(Boolean);
  return { stage, level: level.join("/") };
}

/** The address of a place in a model; the root's diagram has the shortest. */
export const addressOf = (id: string, stage: string, level: string, looks = false): string =>
  `/${looks ? "look" : "models"}/${id}${stage === "build" && level === "" ? "" : `/${stage}`}${level && `/${level}`}`;

/** A place in a model as a link that others can open, where they only look. */
export const lookLink = (id: string, stage: string, level: string): string =>
  `${location.origin}${location.pathname}#${addressOf(id, stage, level, true)}`;

export const goToPlace = (id: string, stage: string, level: string): void => navigate(addressOf(id, stage, level));

export const goToModel = (id: string): void => navigate(`/models/${id}`);
