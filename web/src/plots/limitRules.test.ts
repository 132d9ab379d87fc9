import { expect, test } from "vitest";
import type { Verdict } from "../api/client";
import { tokens } from "../ui/tokens";
import { limitRules } from "./limitRules";

const line = (value: number, more: object = {}) => ({ from: 0, to: 4, value, isUpper: true, isOnce: false, signal: "tank.h", ...more });
const verdict = (kind: Verdict["kind"], more: object): Verdict =>
  ({ id: "r", name: "r", kind, lines: [], occasions: [], ...more }) as unknown as Verdict;

test("limits of a signal are drawn in its unit, with the side that is not allowed", () => {
  const rules = limitRules(
    [verdict("met", { lines: [line(2), line(1, { isUpper: false }), line(9, { signal: "pump.q" })] })],
    "tank.h",
    (v) => 100 * v,
  );
  expect(rules).toEqual([
    { from: 0, to: 4, value: 200, color: tokens.met, beyond: "above" },
    { from: 0, to: 4, value: 100, color: tokens.met, beyond: "below" },
  ]);
});

test("each occasion has the colour of its own outcome, and what is missed lies on top", () => {
  const occasions = [verdict("missed", { lines: [line(1)] }), verdict("open", { lines: [line(3)] }), verdict("met", { lines: [line(2)] })];
  // What the whole verdict draws is what its occasions do.
  const rules = limitRules([verdict("missed", { lines: [line(1), line(3), line(2)], occasions })], "tank.h", (v) => v);
  expect(rules.map((r) => [r.value, r.color])).toEqual([
    [3, tokens.quiet],
    [2, tokens.met],
    [1, tokens.missed],
  ]);
});

test("what need only be reached once has no forbidden side", () => {
  const [rule] = limitRules([verdict("met", { lines: [line(1, { isOnce: true })] })], "tank.h", (v) => v);
  expect(rule).toEqual({ from: 0, to: 4, value: 1, color: tokens.met, once: true });
});
