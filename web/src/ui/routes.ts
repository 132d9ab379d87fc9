import { navigate } from "wouter/use-hash-location";

/** The page of a model, with the stage and the level that it shows. */
export const modelRoute = "/models/:id/*?";

/** The stage and the level that the rest of an address names. */
export function placeOf(rest: string | undefined): { stage: string; level: string } {
  const [stage = "", ...level] = (rest ?? "").split("/").filter(Boolean);
  return { stage, level: level.join("/") };
}

/** The address of a place in a model; the root's diagram has the shortest. */
export const addressOf = (id: string, stage: string, level: string): string =>
  `/models/${id}${stage === "build" && level === "" ? "" : `/${stage}`}${level && `/${level}`}`;

export const goToModel = (id: string): void => navigate(`/models/${id}`);
