/** The model document as the server stores it. */
export interface PartNode {
  type: string;
  name: string;
  x: number;
  y: number;
  flip?: boolean;
  parameters: Record<string, string>;
}

export interface PortReference {
  part: string;
  port: string;
}

export interface Point {
  x: number;
  y: number;
}

export interface WireNode {
  from: PortReference;
  to: PortReference;
  bends: Point[];
}

export interface SignalNode {
  name?: string;
  unit?: string;
  probe?: number;
}

export interface ParameterNode {
  value: string;
  description?: string;
}

export type RequirementKind = "upperLimit" | "lowerLimit" | "overshoot" | "riseTime" | "settlingTime" | "steadyStateError";

export interface RequirementNode {
  name: string;
  text?: string;
  kind: RequirementKind;
  signal: string;
  reference?: string;
  limit: string;
  from?: string;
  to?: string;
  band?: string;
}

export interface AreaNode {
  text: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface RunSettings {
  end: string;
  method: string;
  relativeTolerance: number;
  absoluteTolerance: number;
  step: string;
  live: boolean;
  start?: string;
  steadyParts?: string[];
  output?: string;
  largestStep?: string;
}

export interface ModelDocument {
  format: string;
  name: string;
  description?: string;
  parts: Record<string, PartNode>;
  wires: Record<string, WireNode>;
  signals: Record<string, SignalNode>;
  parameters: Record<string, ParameterNode>;
  requirements: Record<string, RequirementNode>;
  areas: Record<string, AreaNode>;
  /** Texts of the parts that the model brings along. */
  classes: Record<string, { text: string }>;
  settings: RunSettings;
}

/** One operation of a JSON Patch (RFC 6902). */
export interface Operation {
  op: "add" | "remove" | "replace";
  path: string;
  value?: unknown;
}

export const escapeStep = (step: string) => step.replaceAll("~", "~0").replaceAll("/", "~1");

/** A JSON Pointer of the given steps. */
export const pointer = (...steps: string[]) => "/" + steps.map(escapeStep).join("/");

/** Applies operations to a copy that shares what did not change. */
export function applyOperations(document: ModelDocument, operations: readonly Operation[]): ModelDocument {
  return operations.reduce<unknown>((root, { op, path, value }) => {
    const steps = path
      .slice(1)
      .split("/")
      .map((s) => s.replaceAll("~1", "/").replaceAll("~0", "~"));
    return put(root, steps, op, value);
  }, document) as ModelDocument;
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
export function freeName(document: ModelDocument, wanted: string, also: ReadonlySet<string> = new Set()): string {
  const taken = new Set([...Object.values(document.parts).map((p) => p.name), ...Object.keys(document.parameters), ...also]);
  if (!taken.has(wanted)) return wanted;
  const stem = wanted.replace(/[ \d]+$/, "");
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}
