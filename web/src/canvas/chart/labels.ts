import type { Chart, ChartName, NameKind, ChartTransition } from "../../state/document";

/** Texts of a chart as pieces that are written in the style of what they name. */

export interface Piece {
  text: string;
  kind: NameKind | "word" | "time" | "plain" | "quiet";
}

/** What each name is; words of lists are literals. */
export function kindsOf(chart: Chart): ReadonlyMap<string, Piece["kind"]> {
  const kinds = new Map<string, Piece["kind"]>();
  const names: ChartName[] = Object.values(chart.names);
  for (const n of names) for (const word of n.type.match(/\w+/g) ?? []) if (n.type.includes("{")) kinds.set(word, "word");
  for (const n of names) kinds.set(n.name, n.kind);
  return kinds;
}

/** A text in pieces: names by what they are. */
export function pieces(text: string, kinds: ReadonlyMap<string, Piece["kind"]>): Piece[] {
  return (text.match(/[A-Za-z_]\w*|[^A-Za-z_]+/g) ?? []).map((t) => ({ text: t, kind: kinds.get(t) ?? "plain" }));
}

/** The lines that a transition is told in: event, guard, times, action. */
export function linesOf(t: ChartTransition, kinds: ReadonlyMap<string, Piece["kind"]>, width = 26): Piece[][] {
  const quiet = (text: string): Piece => ({ text, kind: "quiet" });
  const lines: Piece[][] = [];
  const head: Piece[] = [];
  if (t.event) head.push({ text: t.event, kind: kinds.get(t.event) ?? "event" });
  if (t.after) head.push(quiet(`${head.length ? " " : ""}after `), ...pieces(t.after, kinds));
  if (t.every) head.push(quiet(`${head.length ? " " : ""}every `), ...pieces(t.every, kinds));
  if (t.guard) {
    const guard = [quiet("["), ...pieces(t.guard, kinds), ...(t.heldFor ? [quiet(" for "), ...pieces(t.heldFor, kinds)] : []), quiet("]")];
    lines.push(...wrapped(head.length ? [...head, quiet(" "), ...guard] : guard, width));
  } else if (head.length) lines.push(head);
  for (const line of (t.action ?? "").split(/;|\n/)) if (line.trim()) lines.push([quiet("/ "), ...pieces(line.trim(), kinds)]);
  return lines;
}

/** Pieces in lines of about a width, broken before "and" and "or" where that is possible. */
export function wrapped(all: Piece[], width: number): Piece[][] {
  const lines: Piece[][] = [];
  let [line, length] = [[] as Piece[], 0];
  for (const piece of all) {
    const breaks = /^(and|or)$/.test(piece.text) && length > width * 0.45;
    if (breaks || (length + piece.text.length > width * 1.4 && length > 0)) {
      lines.push(line);
      [line, length] = [[], 0];
    }
    line.push(piece);
    length += piece.text.length;
  }
  if (line.length) lines.push(line);
  return lines;
}

/** Pieces in lines of at most a number of letters, broken between any two of them. */
function fitted(all: Piece[], width: number): Piece[][] {
  const lines: Piece[][] = [[]];
  let length = 0;
  for (const piece of all) {
    if (length > 0 && length + piece.text.trimEnd().length > width) {
      lines.push([]);
      length = 0;
    }
    (lines.at(-1) as Piece[]).push(length === 0 ? { ...piece, text: piece.text.trimStart() } : piece);
    length += piece.text.length;
  }
  return lines;
}

/** Lines of what a state does: on entry, while it is active, on exit. */
export function bodyOf(
  s: { entry?: string | null; while?: string | null; exit?: string | null },
  kinds: ReadonlyMap<string, Piece["kind"]>,
  width: number,
): Piece[][] {
  const lines: Piece[][] = [];
  for (const when of ["entry", "while", "exit"] as const) {
    const statements = (s[when] ?? "")
      .split(/;|\n/)
      .map((l) => l.trim())
      .filter(Boolean);
    statements.forEach((text, i) => {
      const [first, ...more] = fitted(pieces(text, kinds), width - when.length - 1);
      const behind: Piece = { text: "   ", kind: "quiet" };
      lines.push([i === 0 ? { text: `${when} `, kind: "quiet" } : behind, ...(first ?? [])], ...more.map((l) => [behind, ...l]));
    });
  }
  return lines;
}
