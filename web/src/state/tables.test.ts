import { beforeEach, describe, expect, it, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  here: (...steps: string[]) => `/definitions/c/${steps.join("/")}`,
  restructure: () => Promise.resolve(null),
}));

import { useBench } from "./bench";
import { applyOperations, type DecisionTable, type Operation, type Schedule, type Table } from "./document";
import { removeName } from "./names";
import { faultySignals, type Fault } from "./panels";
import { addCondition, addPhase, addRule, inOrder, moveRow, removeRow, setCommand, setThen, setWhen } from "./tables";

const decisions: DecisionTable = {
  kind: "decisions",
  name: "D",
  names: {
    u: { name: "level", kind: "input", type: "Real", order: 0 },
    v: { name: "closed", kind: "input", type: "Boolean", order: 1 },
    y: { name: "gate", kind: "output", type: "Real", order: 2 },
  },
  conditions: { c1: { text: "level", order: 0 } },
  rules: {
    r1: { order: 0, when: { c1: "> 2" }, then: { y: "1" } },
    r2: { order: 1, when: {}, then: { y: "0" } },
  },
};

const schedule: Schedule = {
  kind: "schedule",
  name: "S",
  repeats: false,
  names: { y: { name: "valve", kind: "output", type: "Real", order: 0 } },
  phases: {
    f1: { name: "Phase", order: 0, lasts: "1 s", commands: {} },
    f2: { name: "Go", order: 1, commands: { y: { to: "1", way: "ramp", over: "2 s" } } },
  },
};

/** What a table is after the last edit. */
const after = <T extends Table>(of: T): T => applyOperations({ definitions: { c: of } }, made.at(-1)?.operations ?? []).definitions.c;

const on = (table: Table) => useBench.setState({ table, chart: null, selection: new Set(), definition: "c" });
const rules = (of: DecisionTable) => inOrder(of.rules).map(([id]) => id);

beforeEach(() => {
  made.length = 0;
});

describe("edits of a decision table", () => {
  beforeEach(() => on(decisions));

  it("fill, change and empty a cell; nothing is no edit", () => {
    setWhen("r2", "c1", "≤ 2");
    expect(after(decisions).rules.r2?.when).toEqual({ c1: "≤ 2" });
    setWhen("r1", "c1", "");
    expect(after(decisions).rules.r1?.when).toEqual({});
    setThen("r1", "y", "0.5");
    expect(after(decisions).rules.r1?.then).toEqual({ y: "0.5" });
    setThen("r1", "y", "1");
    expect(made).toHaveLength(3);
  });

  it("add a rule behind the chosen one, or a copy of it", () => {
    const id = addRule("r1");
    expect(rules(after(decisions))).toEqual(["r1", id, "r2"]);
    const copy = addRule("r1", "r1");
    expect(after(decisions).rules[copy]).toMatchObject({ when: { c1: "> 2" }, then: { y: "1" } });
    expect(rules(after(decisions)).at(-1)).toBe("r2");
  });

  it("add a column for the next input that none looks at", () => {
    const id = addCondition();
    expect(after(decisions).conditions[id]).toMatchObject({ text: "closed", order: 1 });
  });

  it("move a rule, and not beyond the end", () => {
    moveRow("r2", -1);
    expect(rules(after(decisions))).toEqual(["r2", "r1"]);
    moveRow("r2", 1);
    expect(made).toHaveLength(1);
  });

  it("take a column or an output away with its cells", () => {
    removeRow("c1");
    expect(after(decisions)).toMatchObject({ conditions: {}, rules: { r1: { when: {} } } });
    removeName("y");
    expect(after(decisions).rules).toMatchObject({ r1: { then: {} }, r2: { then: {} } });
  });
});

describe("edits of a schedule", () => {
  beforeEach(() => on(schedule));

  it("add a phase with a name of its own behind the chosen one", () => {
    const id = addPhase("f1");
    expect(inOrder(after(schedule).phases).map(([i, p]) => [i, p.name])).toEqual([
      ["f1", "Phase"],
      [id, "Phase 2"],
      ["f2", "Go"],
    ]);
  });

  it("give a command a value, another way, and nothing", () => {
    setCommand("f1", "y", { to: "0.5" });
    expect(after(schedule).phases.f1?.commands.y).toEqual({ to: "0.5", way: "step" });
    setCommand("f2", "y", { way: "step", over: undefined });
    expect(after(schedule).phases.f2?.commands.y).toEqual({ to: "1", way: "step" });
    setCommand("f2", "y", null);
    expect(after(schedule).phases.f2?.commands).toEqual({});
    setCommand("f1", "y", null);
    expect(made).toHaveLength(3);
  });
});

describe("faults of signals", () => {
  const fault = (signal: string, isActive = false): Fault => ({ name: signal, kind: "stuck", signal, isActive });

  it("stand on the level of their signals, active as they are or were switched", () => {
    const faults = { a: fault("p.y"), b: fault("p.y", true), c: fault("q.y"), d: fault("inner/p.y") };
    expect([...faultySignals(faults, "", null)]).toEqual([
      ["p.y", true],
      ["q.y", false],
    ]);
    const switched = new Map([
      ["fault b", "false"],
      ["fault c", "true"],
    ]);
    expect([...faultySignals(faults, "", switched)]).toEqual([
      ["p.y", false],
      ["q.y", true],
    ]);
    expect([...faultySignals(faults, "inner", null).keys()]).toEqual(["p.y"]);
  });
});
