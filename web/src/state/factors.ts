import { useBench } from "./bench";
import { api, ask, type Schemas } from "../api/client";

/** Most points of a stimulus that a search begins with. */
const MOST_POINTS = 12;

/** The points of the stimulus that drives a model, or else of its first one, as factors. */
export async function stimulusPoints(): Promise<Schemas["FactorCandidate"][]> {
  const {
    id,
    model: { stimuli, settings },
  } = useBench.getState();
  const stimulus = settings.stimulus || Object.keys(stimuli)[0];
  const name = stimulus ? stimuli[stimulus]?.name : undefined;
  if (!name) return [];
  const found = await findFactors(id)(`${name}, value`).catch(() => []);
  return found.filter((c) => c.kind === "stimulus" && c.target.startsWith(`#track:${stimulus}:`)).slice(0, MOST_POINTS);
}

/** What runs of a model can set, by a part of its name. */
export const findFactors =
  (model: string) =>
  (search: string): Promise<Schemas["FactorCandidate"][]> =>
    ask(api.GET("/api/models/{id}/factors", { params: { path: { id: model }, query: { search } } }));
