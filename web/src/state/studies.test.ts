import { describe, expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { columnsOf, misses, readerOf, spanOf, toneOf, TONES } from "./studyColumns";
import { merged, type Results, type Row } from "./studies";

const row = (index: number, more: Partial<Row> = {}): Row => ({
  row: index,
  number: index + 1,
  cells: [`${index} kg`],
  numbers: [index],
  measures: [10 * index],
  met: [index < 3],
  margins: [3 - index],
  problem: null,
  isFailed: false,
  ...more,
});

const told = (rows: Row[], isWhole: boolean): Schemas["StudyResults"] =>
  ({
    job: { id: "j", rows: 5 },
    factors: [{ id: "f", name: "mass", unit: "kg" }],
    measures: [{ id: "m", name: "deepest", unit: "m" }],
    requirements: [{ id: "q", name: "not too deep", unit: "" }],
    isWhole,
    rows,
    running: {},
    end: 40,
    best: null,
    improved: [],
    why: null,
    ended: null,
  }) as unknown as Schemas["StudyResults"];

describe("results of a study", () => {
  const first = merged(null, told([row(1), row(0)], true));

  test("stand at their rows, with holes where runs are still to come", () => {
    expect(first.rows.length).toBe(5);
    expect(first.rows.map((r) => r?.row)).toEqual([0, 1, undefined, undefined, undefined]);
  });

  test("those that come later join, and all anew replaces", () => {
    expect(merged(first, told([row(4)], false)).rows.filter(Boolean).length).toBe(3);
    expect(merged(first, told([row(4)], true)).rows.filter(Boolean).length).toBe(1);
  });

  test("are read by columns", () => {
    const read = (key: string) => readerOf(first as Results, key)(row(2));
    expect(columnsOf(first).map((c) => c.key)).toEqual(["factor:f", "measure:m", "margin:q", "run"]);
    expect([read("factor:f"), read("measure:m"), read("margin:q"), read("run")]).toEqual([2, 20, 1, 3]);
    expect(readerOf(first, "measure:gone")(row(2))).toBeNull();
  });

  test("have tones between the least and the largest; failed runs have none", () => {
    const rows = [row(0), row(4), row(9, { isFailed: true })];
    expect(spanOf(rows, readerOf(first, "measure:m"))).toEqual([0, 40]);
    expect(toneOf(0, 0, 40)).toBe(TONES[0]);
    expect(toneOf(40, 0, 40)).toBe(TONES.at(-1));
    expect(toneOf(null, 0, 40)).toBe("#ffffff");
    expect([misses(row(1)), misses(row(3))]).toEqual([false, true]);
  });
});
