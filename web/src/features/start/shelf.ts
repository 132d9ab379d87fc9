import type { Schemas } from "../../api/client";

export type Entry = Schemas["ShelfEntry"];
export type Order = "recent" | "name" | "mine";

/** What of the shelf is shown. */
export interface Choice {
  folder: string;
  tag: string;
  domain: string;
  order: Order;
  author: string;
}

/** Whether a model lies in a folder or in one within it; all do in none. */
export const isIn = (folder: string, model: { folder: string }): boolean =>
  folder === "" || model.folder === folder || model.folder.startsWith(`${folder}/`);

/** The models that are shown, in the order that is wanted; the server has put the last changed first. */
export function chosen(models: readonly Entry[], { folder, tag, domain, order, author }: Choice): Entry[] {
  const found = models.filter(
    (m) =>
      isIn(folder, m) &&
      (tag === "" || m.tags.includes(tag)) &&
      (domain === "" || m.domains.includes(domain)) &&
      (order !== "mine" || (author !== "" && m.author === author)),
  );
  return order === "name" ? found.sort((a, b) => a.name.localeCompare(b.name)) : found;
}

/** How many models carry each of some words. */
export function counts(models: readonly Entry[], of: (m: Entry) => readonly string[]): [string, number][] {
  const found = new Map<string, number>();
  for (const m of models) for (const word of of(m)) found.set(word, (found.get(word) ?? 0) + 1);
  return [...found].sort(([a], [b]) => a.localeCompare(b));
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** When something happened, as one says it. */
export function since(at: string, now = Date.now()): string {
  const then = new Date(at);
  const passed = now - then.getTime();
  if (passed < MINUTE) return "just now";
  if (passed < HOUR) return `${Math.floor(passed / MINUTE)} min ago`;
  if (passed < DAY) return `${Math.floor(passed / HOUR)} h ago`;
  if (passed < 7 * DAY) return then.toLocaleDateString("en-GB", { weekday: "long" });
  return then.toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });
}
