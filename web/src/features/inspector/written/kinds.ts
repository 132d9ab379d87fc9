import type { NameKind, Written } from "../../../state/document";

interface Kind {
  kind: NameKind;
  title: string;
  one: string;
}

const KINDS: readonly Kind[] = [
  { kind: "input", title: "Inputs", one: "Input" },
  { kind: "event", title: "Events", one: "Event" },
  { kind: "output", title: "Outputs", one: "Output" },
  { kind: "local", title: "Locals", one: "Local" },
  { kind: "parameter", title: "Parameters", one: "Parameter" },
  { kind: "signal", title: "Signals of the chart", one: "Signal of the chart" },
];

/** What names a chart or table can have, and what they are called there. */
export function kindsOf(of: Written): readonly Kind[] {
  if (of.kind === "chart") return KINDS;
  return KINDS.filter((k) => ["input", "output", "parameter"].includes(k.kind)).map((k) =>
    of.kind === "schedule" && k.kind === "output" ? { kind: k.kind, title: "Commands", one: "Command" } : k,
  );
}
