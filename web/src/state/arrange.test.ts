import { beforeEach, describe, expect, it, vi } from "vitest";
import { useBench } from "./bench";
import type { Operation } from "./document";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  here: (...steps: string[]) => "/" + steps.join("/"),
  restructure: () => Promise.resolve(null),
}));
vi.mock("./runs", () => ({ refreshTraces: () => Promise.resolve() }));
const { arrange } = await import("./edits");

const places = (operations: readonly Operation[]) => Object.fromEntries(operations.map((o) => [o.path, o.value]));

describe("arranging parts", () => {
  beforeEach(() => {
    made.length = 0;
    const at = (x: number, y: number) => ({ type: "Gain", name: "Gain", x, y, flip: false, turn: 0, parameters: {} });
    const size = (width: number, height: number) => ({ width, height });
    useBench.setState({
      diagram: { parts: { a: at(0, 0), b: at(104, 40), c: at(400, 8) } },
      view: { parts: { a: size(64, 48), b: size(32, 32), c: size(64, 48) } },
      selection: new Set(["a", "b", "c"]),
    } as never);
  });

  it("puts edges on the line of the first", () => {
    arrange("top");
    expect(places(made[0]?.operations ?? [])).toEqual({ "/parts/b/y": 0, "/parts/c/y": 0 });
  });

  it("puts middles on one line, so that wires run straight", () => {
    arrange("row");
    expect(places(made[0]?.operations ?? [])).toEqual({ "/parts/b/y": 8, "/parts/c/y": 0 });
  });

  it("leaves gaps of one size between the outermost", () => {
    arrange("across");
    // 464 in all less 160 of parts is 304 for two gaps; places keep to the grid.
    expect(places(made[0]?.operations ?? [])).toEqual({ "/parts/b/x": 216 });
  });
});
