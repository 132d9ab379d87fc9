import { describe, expect, test, vi } from "vitest";

vi.mock("./model", () => ({ edit: () => undefined, queueIdle: () => Promise.resolve() }));

import { coveredAt, coveredItems, coveredLines, coveredWords, type Coverage } from "./coverage";

const side = (count: number, words: string) => ({ side: "yes", words, count, only: null, justification: null });
const point = (part: string, ...sides: ReturnType<typeof side>[]) => ({ part, sides });

describe("coverage of a part", () => {
  const view = {
    points: [point("a", side(3, "x"), side(0, "never y")), point("a/b", side(0, "never z")), point("ab", side(1, "w"))],
  } as unknown as Coverage;
  test("counts what lies inside it, and tells what no case came by", () =>
    expect(coveredAt(view, "a")).toEqual({ covered: 1, total: 3, missing: ["never y", "never z"] }));
  test("leaves out parts whose ids only begin alike", () => expect(coveredAt(view, "ab")).toEqual({ covered: 1, total: 1, missing: [] }));
  test("is nothing for a part that decides nothing", () => expect(coveredAt(view, "q").total).toBe(0));
});

describe("coverage within a part", () => {
  const at = (part: string, type: string, line: number, item: string | null, ...sides: ReturnType<typeof side>[]) => ({
    part,
    type,
    line,
    item,
    sides,
  });
  const view = {
    points: [
      at("a", "Gate", 4, "t1", side(2, "x"), side(0, "never open")),
      at("a", "Gate", 4, "t1", side(0, "never shut")),
      at("b", "Gate", 4, "t1", side(1, "y")),
      at("a", "", 0, "s1", side(1, "z")),
      at("a", "Gate", 9, null, side(1, "w")),
    ],
  } as unknown as Coverage;
  test("is told for each state and transition of one use", () =>
    expect([...coveredItems(view, "a")]).toEqual([
      ["t1", { covered: 1, total: 3, missing: ["never open", "never shut"] }],
      ["s1", { covered: 1, total: 1, missing: [] }],
    ]));
  test("is told for each line of a text over all its uses", () =>
    expect([...coveredLines(view, "Gate")].map(([line, c]) => [line, c.covered, c.total])).toEqual([
      [4, 2, 4],
      [9, 1, 1],
    ]));
  test("is said in words", () => {
    expect(coveredWords({ covered: 1, total: 2, missing: ["never open"] })).toBe("the cases came by 1 of 2; never open");
    expect(coveredWords({ covered: 2, total: 2, missing: [] })).toBe("the cases came by 2 of 2");
  });
});
