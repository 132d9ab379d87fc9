import type { Schemas } from "../api/client";

/** The model document as the server stores it; types are generated from the server's. */
export type ModelDocument = Schemas["ModelDocument"];
export type Definition = Schemas["Definition"];
export type Diagram = Schemas["DefinitionDiagramDefinition"];
export type Chart = Schemas["DefinitionChartDefinition"];
export type ChartState = Schemas["ChartStateNode"];
export type ChartStateKind = Schemas["ChartStateKind"];
export type ChartTransition = Schemas["ChartTransitionNode"];
export type ChartName = Schemas["NameNode"];
export type DecisionTable = Schemas["DefinitionDecisionTable"];
export type Rule = Schemas["RuleNode"];
export type Schedule = Schemas["DefinitionScheduleDefinition"];
export type Phase = Schemas["PhaseNode"];
export type Command = Schemas["CommandNode"];
export type Table = DecisionTable | Schedule;
export type Valve = Schemas["DefinitionValveDefinition"];
export type ValvePort = Schemas["ValvePortNode"];
export type ValvePosition = Schemas["ValvePositionNode"];
export type ValvePath = Schemas["ValvePathNode"];
/** What is edited in a form of its own: it has names. */
export type Written = Chart | Table;
export type NameKind = Schemas["NameKind"];
export type PartNode = Schemas["PartNode"];
export type PortReference = Schemas["PortReference"];
export type Point = Schemas["Point"];
export type WireNode = Schemas["WireNode"];
export type SignalNode = Schemas["SignalNode"];
export type ParameterNode = Schemas["ParameterNode"];
export type RequirementNode = Schemas["RequirementNode"];
export type RequirementKind = Schemas["RequirementKind"];
export type AreaNode = Schemas["AreaNode"];
export type RunSettings = Schemas["RunSettings"];

/** One operation of a JSON Patch (RFC 6902). */
export interface Operation {
  op: "add" | "remove" | "replace";
  path: string;
  value?: unknown;
}

export const escapeStep = (step: string) => step.replaceAll("~", "~0").replaceAll("/", "~1");

/** A JSON Pointer of the given steps. */
export const pointer = (...steps: string[]) => "/" + steps.map(escapeStep).join("/");

/** The type of parts of a definition of the model. */
export const typeOf = (definition: string) => "#" + definition;

/** The definition that a part is an instance of; null for parts of the catalog or the package. */
export const definitionOf = (type: string): string | null => (type.startsWith("#") ? type.slice(1) : null);

/** What stands in the place of the diagram on a level that is a chart or a table. */
const NOTHING_DRAWN = {
  kind: "diagram",
  name: "",
  parameters: {},
  parts: {},
  wires: {},
  signals: {},
  areas: {},
  notes: {},
} as unknown as Diagram;

/** What is shown on a level. */
interface Shown {
  diagram: Diagram;
  /** What is shown in place of a diagram. */
  chart: Chart | null;
  table: Table | null;
  valve: Valve | null;
}

/** What a definition is as a level; null for a text. */
const levelOf = (definition: Definition | undefined): Shown | null => {
  const nothing = { diagram: NOTHING_DRAWN, chart: null, table: null, valve: null };
  switch (definition?.kind) {
    case "diagram":
      return { ...nothing, diagram: definition };
    case "chart":
      return { ...nothing, chart: definition };
    case "decisions":
    case "schedule":
      return { ...nothing, table: definition };
    case "valve":
      return { ...nothing, valve: definition };
    default:
      return null;
  }
};

/** A level of a model: the id of its definition and the diagram, chart or table; null where the path of part ids leads to none. */
export function levelAt(model: ModelDocument, path: string): (Shown & { definition: string }) | null {
  let definition = model.root;
  for (const step of path ? path.split("/") : []) {
    const here = model.definitions[definition];
    const type = here?.kind === "diagram" ? here.parts[step]?.type : undefined;
    const inner = type === undefined ? null : definitionOf(type);
    if (inner === null) return null;
    definition = inner;
  }
  const level = levelOf(model.definitions[definition]);
  return level && { definition, ...level };
}

/** One place in a model where a diagram is used. */
export interface Level extends Shown {
  /** Ids of the parts that lead there from the root; empty for the root. */
  path: string;
  /** Their names. */
  names: readonly string[];
  definition: string;
}

/** More levels than these are not listed; the server takes no model with as many parts. */
const MOST_LEVELS = 10_000;

const walked = new WeakMap<object, Level[]>();

/** All levels of a model from the root down: every use of a definition is one. What would hold itself is left out. */
export function levelsOf(model: ModelDocument): readonly Level[] {
  const known = walked.get(model.definitions);
  if (known) return known;
  const levels: Level[] = [];
  const walk = (definition: string, path: string, names: readonly string[], around: readonly string[]) => {
    const level = levelOf(model.definitions[definition]);
    if (!level || around.includes(definition) || levels.length >= MOST_LEVELS) return;
    levels.push({ path, names, definition, ...level });
    for (const [id, part] of Object.entries(level.diagram.parts)) {
      const inner = definitionOf(part.type);
      if (inner !== null) walk(inner, path ? `${path}/${id}` : id, [...names, part.name], [...around, definition]);
    }
  };
  walk(model.root, "", [], []);
  walked.set(model.definitions, levels);
  return levels;
}

/** A plotted signal: where it was said to be plotted, and its strip. */
export interface Probe {
  /** The signal by identity. */
  reference: string;
  /** Its key on its level. */
  key: string;
  definition: string;
  strip: number;
}

/** The plotted signals of all levels, in the order of their strips. */
export function probesOf(model: ModelDocument): readonly Probe[] {
  return levelsOf(model)
    .flatMap(({ path, definition, diagram }) =>
      Object.entries(diagram.signals).flatMap(([key, s]) =>
        // One that waits for a source has nothing to show.
        s.probe === undefined || s.feeds ? [] : [{ reference: referenceOf(path, key), key, definition, strip: s.probe as number }],
      ),
    )
    .sort((a, b) => a.strip - b.strip);
}

/** The identity of a signal from its key on a level, and back. */
export const referenceOf = (level: string, key: string) => (level ? `${level}/${key}` : key);

/** Applies operations to a copy that shares what did not change. */
export function applyOperations<T>(document: T, operations: readonly Operation[]): T {
  return operations.reduce<unknown>((root, { op, path, value }) => {
    const steps = path
      .slice(1)
      .split("/")
      .map((s) => s.replaceAll("~1", "/").replaceAll("~0", "~"));
    return put(root, steps, op, value);
  }, document) as T;
}

function put(node: unknown, steps: string[], op: Operation["op"], value: unknown): unknown {
  const [step, ...rest] = steps as [string, ...string[]];
  if (Array.isArray(node)) {
    const copy = [...(node as unknown[])];
    const index = step === "-" ? copy.length : Number(step);
    if (rest.length > 0) copy[index] = put(copy[index], rest, op, value);
    else if (op === "add") copy.splice(index, 0, value);
    else if (op === "remove") copy.splice(index, 1);
    else copy[index] = value;
    return copy;
  }
  const copy = { ...(node as Record<string, unknown>) };
  if (rest.length > 0) {
    if (!(step in copy)) throw new Error(`nothing at ${step}`);
    copy[step] = put(copy[step], rest, op, value);
  } else if (op === "remove") delete copy[step];
  else copy[step] = value;
  return copy;
}

export const newId = (prefix: string) => prefix + Math.random().toString(36).slice(2, 10);

/** A name that no part or parameter has yet. */
export function freeName(diagram: Pick<Diagram, "parts" | "parameters">, wanted: string, also: ReadonlySet<string> = new Set()): string {
  const taken = new Set([...Object.values(diagram.parts).map((p) => p.name), ...Object.keys(diagram.parameters), ...also]);
  if (!taken.has(wanted)) return wanted;
  const stem = wanted.replace(/[ \d]+$/, "");
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}

/** Whether a model has slots or parts on a condition: what can be run side by side. */
export const canChoose = (model: ModelDocument): boolean =>
  Object.values(model.definitions).some((d) => d.kind === "diagram" && (!!d.slot || Object.values(d.parts).some((p) => !!p.onlyWhen)));

/** A name that can be one of a bundle's members, made of words: letters, digits and underscores; none of those taken. */
export function memberName(words: string, taken: ReadonlySet<string>): string {
  const plain = words
    .trim()
    .replace(/[^A-Za-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "");
  const stem = /^[A-Za-z]/.test(plain) ? plain : `m_${plain}`;
  let name = stem;
  for (let n = 2; taken.has(name) || name === "bundle"; n++) name = `${stem}_${n}`;
  return name;
}
