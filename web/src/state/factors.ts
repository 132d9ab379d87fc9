import { api, ask, type Schemas } from "../api/client";

/** What runs of a model can set, by a part of its name. */
export const findFactors =
  (model: string) =>
  (search: string): Promise<Schemas["FactorCandidate"][]> =>
    ask(api.GET("/api/models/{id}/factors", { params: { path: { id: model }, query: { search } } }));
