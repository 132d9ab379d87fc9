import { describe, expect, test } from "vitest";
import { isStale, type BenchState, type PlayState } from "./bench";
import type { ModelDocument } from "./document";
import { enteringValue } from "./play";

const diagram = (parts: object) => ({ kind: "diagram", parts, wires: {}, signals: {}, parameters: {} });
const model = {
  root: "main",
  definitions: { main: diagram({ a: { type: "#d" }, b: { type: "#d" } }), d: diagram({ "g/1": { type: "Gain" } }) },
} as unknown as ModelDocument;

describe("a value that is edited while a run is played", () => {
  const root = { model, level: "", definition: "main" };
  const inside = { model, level: "b", definition: "d" };

  test("is that of the part in the use that is shown", () => {
    expect(enteringValue(root, { op: "add", path: "/definitions/main/parts/a/parameters/k", value: "3" })).toEqual({
      part: "a",
      parameter: "k",
      value: "3",
    });
    expect(enteringValue(inside, { op: "replace", path: "/definitions/d/parts/g~11/parameters/k", value: 2 })).toEqual({
      part: "b/g/1",
      parameter: "k",
      value: "2",
    });
  });

  test("is that of the whole model at its top", () => {
    const path = "/definitions/main/parameters/mass/value";
    expect(enteringValue(root, { op: "replace", path, value: "5 kg" })).toEqual({ part: "", parameter: "mass", value: "5 kg" });
  });

  test.each([
    ["add", "/definitions/main/parts/c", root],
    ["add", "/definitions/main/parts/c/parameters/k", root],
    ["remove", "/definitions/main/parts/a/parameters/k", root],
    ["replace", "/definitions/main/parameters/mass/unit", root],
    ["replace", "/definitions/d/parameters/mass/value", inside],
    ["replace", "/definitions/main/parts/a/parameters/k", inside],
    ["replace", "/settings/end", root],
  ] as const)("is none of %s %s", (op, path, place) => {
    expect(enteringValue(place, { op, path, value: "1" })).toBeNull();
  });
});

describe("what a run shows is out of date", () => {
  const state = (revision: number, resultsRevision: number, play: Partial<PlayState> | null = null) =>
    ({ run: { revision }, play, view: { resultsRevision } }) as unknown as BenchState;

  test("where the model has changed since", () => {
    expect(isStale(state(3, 3))).toBe(false);
    expect(isStale(state(3, 4))).toBe(true);
  });

  test("of a played run not by values that went into it, but by everything behind another edit", () => {
    expect(isStale(state(3, 9, { apart: null }))).toBe(false);
    expect(isStale(state(3, 9, { apart: 9 }))).toBe(false);
    expect(isStale(state(3, 10, { apart: 9 }))).toBe(true);
  });
});
