import { describe, expect, it } from "vitest";
import { cornersOf, freshShape, inOrder, type ShapeKind } from "./shapes";

describe("shapes of a part", () => {
  it("begin about a metre large, each with what its kind needs", () => {
    const kinds: ShapeKind[] = ["box", "cylinder", "cone", "extrusion", "tube", "text", "mesh"];
    const fresh = kinds.map((k) => freshShape(k, 2));
    expect(fresh.every((s) => s.order === 2 && s.measure > 0)).toBe(true);
    expect(freshShape("extrusion", 1).outline).toHaveLength(3);
    expect(freshShape("text", 1).text).toBe("Text");
    expect(freshShape("mesh", 1).measure).toBe(1);
  });

  it("stand in their order, not in that of their ids", () => {
    const [first, second] = [freshShape("box", 1), freshShape("cone", 2)];
    expect(inOrder({ b: second, c: first }).map(([id]) => id)).toEqual(["c", "b"]);
    expect(inOrder(undefined)).toEqual([]);
  });

  it("read corners of an outline as they are written", () => {
    expect(cornersOf("0 0; 2 0;2, 1.5")).toEqual([
      { x: 0, y: 0 },
      { x: 2, y: 0 },
      { x: 2, y: 1.5 },
    ]);
    expect(cornersOf("0 0; 2 0")).toBeNull();
    expect(cornersOf("0 0; 2; 3 1")).toBeNull();
    expect(cornersOf("0 0; 2 0; a b")).toBeNull();
  });
});
