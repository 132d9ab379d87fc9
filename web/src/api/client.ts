import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type CatalogPart = Schemas["CatalogPart"];
export type ModelView = Schemas["ModelView"];
export type PartView = Schemas["PartView"];
export type ActionView = Schemas["ActionView"];
export type PortView = Schemas["PortView"];
export type SignalView = Schemas["SignalView"];
export type RunView = Schemas["RunView"];
export type Verdict = Schemas["Verdict"];
export type LoopView = Schemas["LoopView"];
export type LoopFiguresView = Schemas["LoopFiguresView"];
export type MapAnswer = Schemas["MapAnswer"];
export type DesignView = Schemas["DesignView"];
export type DesignAsk = Schemas["DesignAsk"];
export type GainsView = Schemas["GainsView"];
export type WishesView = Schemas["WishesView"];
export type TrueRunView = Schemas["TrueRunView"];
export type MethodDescription = Schemas["MethodDescription"];
export type FindingView = Schemas["FindingView"];

export const api = createClient<paths>({ baseUrl: window.location.origin });

/** Told to the window when the server does not know any more who asks. */
export const SIGNED_OUT = "anchor-bend-signed-out";

/** An answer that is an error, told in the server's words. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly advice?: string,
    /** Whose edit of the same this one would do away with. */
    readonly clash?: Clash | null,
  ) {
    super(message);
  }
}

/** Somebody else's edit of the same. */
export interface Clash {
  by: string;
  label: string;
}

interface Problem {
  clash?: Clash | null;
  detail?: string;
  title?: string;
  advice?: string;
}

/** The data of an answer; a problem becomes an ApiError. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new ApiError(0, "The server does not answer.", "Check that it is running; nothing typed is lost meanwhile.");
  }
  if (answer.response.ok) return answer.data as T;
  const problem = (answer.error ?? {}) as Problem;
  if (answer.response.status === 401) window.dispatchEvent(new Event(SIGNED_OUT));
  throw new ApiError(
    answer.response.status,
    problem.detail ?? problem.title ?? `The server answered ${answer.response.status}.`,
    problem.advice,
    problem.clash,
  );
}
