import type { Schemas } from "../../api/client";

type Entry = Schemas["HistoryEntry"];

/** Edits that follow each other under one label are told as one, with their number. */
export interface Told {
  revision: number;
  kind: string;
  text: string;
  time: string;
  count: number;
}

/** Edits of one day by one author. */
export interface Group {
  key: string;
  day: string;
  author: string;
  entries: Told[];
}

const dayOf = (made: string) => {
  const at = new Date(made);
  return Number.isNaN(at.getTime()) ? "" : at.toLocaleDateString(undefined, { day: "numeric", month: "short", year: "numeric" });
};

const timeOf = (made: string) => {
  const at = new Date(made);
  return Number.isNaN(at.getTime()) ? "" : at.toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit" });
};

const textOf = (e: Entry) =>
  e.kind === "undo" ? `Took r${e.target} back` : e.kind === "redo" ? `Made r${e.target} again` : e.label || "Edit";

/** The log by day and author, the latest first; of a kind where one is named. */
export function grouped(entries: readonly Entry[], kind: string): Group[] {
  const groups: Group[] = [];
  for (const e of entries) {
    if (kind !== "" && !e.effect.split(", ").includes(kind)) continue;
    const day = dayOf(e.made);
    let group = groups[groups.length - 1];
    if (!group || group.day !== day || group.author !== e.author) {
      group = { key: `${e.revision}`, day, author: e.author, entries: [] };
      groups.push(group);
    }
    const text = textOf(e);
    const last = group.entries[group.entries.length - 1];
    if (last && last.text === text && e.kind === "edit") last.count++;
    else group.entries.push({ revision: e.revision, kind: e.kind, text, time: timeOf(e.made), count: 1 });
  }
  return groups;
}
