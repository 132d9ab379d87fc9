import { expect, test } from "vitest";
import type { Verdict } from "../../api/client";
import { missedOf } from "./verdictMarks";

const verdict = (kind: string, decides: number | null, more: object = {}) =>
  ({ id: "r", name: "Opens in time", kind, decides, occasions: [], ...more }) as unknown as Verdict;

test("every occasion that is missed has a mark, from when it was asked for to when it was decided", () => {
  const occasions = [verdict("missed", 6, { at: 4 }), verdict("met", 12, { at: 10 }), verdict("missed", 22, { at: 20 })];
  expect(missedOf([verdict("missed", 6, { occasions })]).map(({ from, at }) => [from, at])).toEqual([
    [4, 6],
    [20, 22],
  ]);
});

test("a verdict without occasions has a mark where it was decided; one that is met, open or without an instant has none", () => {
  expect(missedOf([verdict("missed", 3), verdict("met", 5), verdict("open", null), verdict("missed", null)])).toEqual([
    { key: "r 0", name: "Opens in time", from: null, at: 3 },
  ]);
});
