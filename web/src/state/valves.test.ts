import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Operation, Valve, ValvePath } from "./document";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  here: (...steps: string[]) => "/" + ["definitions", "v", ...steps].join("/"),
  restructure: () => Promise.resolve(),
}));

const { useBench } = await import("./bench");
const { applyOperations } = await import("./document");
const { addPort, addPosition, joinPorts, placeTwin, mirrorPosition, movePosition, positionOf, removeOfValve, setPath } =
  await import("./valves");
const { inOrder } = await import("./tables");

const path = (from: string, to: string): ValvePath => ({
  from,
  to,
  kind: "plain",
  order: 0,
  flow: "60 l/min",
  drop: "10 bar",
  overlap: "0.1",
  cracking: "0.4 bar",
  diameter: "2 mm",
});

const valve = {
  kind: "valve",
  name: "V",
  neutral: "s2",
  ports: {
    P: { name: "P", side: "bottom", order: 0 },
    T: { name: "T", side: "bottom", order: 1 },
    A: { name: "A", side: "top", order: 0 },
    B: { name: "B", side: "top", order: 1 },
  },
  positions: {
    s1: { name: "lower", order: 0, paths: { w1: path("P", "A"), w2: path("B", "T") } },
    s2: { name: "hold", order: 1, paths: {} },
  },
} as unknown as Valve;

/** What the valve is after the last edit. */
const after = (): Valve => applyOperations({ definitions: { v: valve } }, made.at(-1)?.operations ?? []).definitions.v;

beforeEach(() => {
  made.length = 0;
  useBench.setState({ valve, definition: "v", selection: new Set() });
});

describe("edits of a valve", () => {
  it("join two ports, with the flows of the other paths and everything that a field shows", () => {
    joinPorts("s2", "P", "T", "orifice");
    const [id] = Object.keys(after().positions.s2?.paths ?? {});
    expect(after().positions.s2?.paths[id as string]).toMatchObject({
      from: "P",
      to: "T",
      kind: "orifice",
      flow: "60 l/min",
      overlap: "0.1",
      cracking: "0.4 bar",
      diameter: "2.5 mm",
    });
    expect([...useBench.getState().selection]).toEqual([id]);
  });

  it("turn a path that joins the ports already", () => {
    joinPorts("s1", "A", "P", "check");
    expect(after().positions.s1?.paths).toMatchObject({ w1: { from: "A", to: "P", kind: "check" } });
    expect(Object.keys(after().positions.s1?.paths ?? {})).toHaveLength(2);
  });

  it("change a path where it stands", () => {
    setPath("w2", "Change the drop", { drop: "5 bar" });
    expect(after().positions.s1?.paths.w2?.drop).toBe("5 bar");
    expect(positionOf(valve, "w2")).toBe("s1");
    expect(positionOf(valve, "none")).toBeNull();
  });

  it("delete a port with the paths that lead to it", () => {
    removeOfValve("A");
    expect(after().ports).not.toHaveProperty("A");
    expect(Object.keys(after().positions.s1?.paths ?? {})).toEqual(["w2"]);
  });

  it("delete the neutral position, and another one becomes it", () => {
    removeOfValve("s2");
    expect(after().neutral).toBe("s1");
    expect(Object.keys(after().positions)).toEqual(["s1"]);
  });

  it("add a port and a position under names that are free", () => {
    addPort();
    expect(Object.values(after().ports).map((p) => p.name)).toContain("C");
    addPosition();
    expect(Object.values(after().positions).map((p) => p.name)).toContain("position");
  });

  it("move a position, and not beyond the end", () => {
    movePosition("s2", -1);
    expect(inOrder(after().positions).map(([id]) => id)).toEqual(["s2", "s1"]);
    made.length = 0;
    movePosition("s2", 1);
    expect(made).toHaveLength(0);
  });

  it("mirror a position: what went straight is crossed", () => {
    mirrorPosition("s1");
    expect(after().positions.s1?.paths).toMatchObject({ w1: { from: "P", to: "B" }, w2: { from: "A", to: "T" } });
  });
});

describe("a twin", () => {
  it("stands below its valve under a name of its own, as one step", () => {
    const diagram = {
      parts: { g: { type: "FourWayValve", name: "Gate", x: 160, y: 80 }, o: { type: "Gain", name: "Gate crude", x: 0, y: 0 } },
      parameters: {},
    };
    useBench.setState({ diagram, view: { parts: { g: { width: 96, height: 64 } } } } as never);
    placeTwin("g", { ...valve, name: "Gate crude" } as Valve);
    expect(made).toHaveLength(1);
    const [definition, part] = (made[0] as (typeof made)[0]).operations as { path: string; value: object }[];
    expect(definition?.value).toMatchObject({ kind: "valve", name: "Gate crude 2" });
    expect(part?.value).toMatchObject({ type: `#${definition?.path.split("/")[2]}`, name: "Gate crude 2", parameters: {}, x: 160, y: 200 });
  });
});
