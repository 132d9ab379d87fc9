import { describe, expect, it } from "vitest";
import type { ModelView, PartView } from "../api/client";
import { applyChange, type ViewChange } from "./view";

const part = (face: string) => ({ face }) as PartView;
const before = {
  revision: 1,
  level: "",
  parts: { a: part("1"), b: part("2") },
  signals: {},
  parameters: {},
  findings: [],
  ownParts: [],
} as unknown as ModelView;

const change = (of: Partial<ViewChange>) => ({ revision: 2, isWhole: false, level: "", ...of }) as ViewChange;

describe("a change of the view", () => {
  it("leaves what it does not name as the same objects", () => {
    const after = applyChange(before, change({ parts: { b: part("3") } }));
    expect(after.parts.a).toBe(before.parts.a);
    expect(after.parts.b).toEqual(part("3"));
    expect(after.signals).toBe(before.signals);
    expect(after.revision).toBe(2);
  });

  it("takes away what is null", () => {
    expect(Object.keys(applyChange(before, change({ parts: { a: null } })).parts)).toEqual(["b"]);
  });

  it("keeps collections that did not change", () => {
    const after = applyChange(before, change({ parts: null }));
    expect(after.parts).toBe(before.parts);
    expect(after.findings).toBe(before.findings);
  });

  it("begins anew where another level is shown", () => {
    expect(applyChange(before, change({ isWhole: true, level: "p", parts: { c: part("4") } })).parts).toEqual({ c: part("4") });
  });
});
