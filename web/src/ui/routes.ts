import { navigate } from "wouter/use-hash-location";

/** The page of a model. */
export const modelRoute = "/models/:id";

export const goToModel = (id: string): void => navigate(`/models/${id}`);
