import { api, ask, type Schemas } from "../api/client";
import { useBench } from "./bench";

/** Linear systems between two signals, as the server answers them. */

export type Answer = Schemas["LinearAnswer"];

export interface Question {
  from: string;
  to: string;
  open: readonly string[];
}

/** The state about which a system is made linear: an instant, or a saved operating point. */
export interface Where {
  at: number | null;
  point: string | null;
}

const linear = ({ from, to, open }: Question, where: Where, range: { low: number; high: number } | null): Promise<Answer> =>
  ask(
    api.POST("/api/models/{id}/linear", {
      params: { path: { id: useBench.getState().id } },
      body: { from, to, open: [...open], ...where, lowFrequency: range?.low ?? null, highFrequency: range?.high ?? null },
    }),
  );

/** The answers at several places, all over the frequencies of the first. */
export async function linearAt(question: Question, first: Where, more: readonly Where[]): Promise<[Answer, ...Answer[]]> {
  const main = await linear(question, first, null);
  const range = { low: Number(main.frequencies[0]), high: Number(main.frequencies.at(-1)) };
  return [main, ...(await Promise.all(more.map((w) => linear(question, w, range))))];
}
