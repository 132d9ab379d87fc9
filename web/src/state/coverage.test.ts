import { describe, expect, test, vi } from "vitest";

vi.mock("./model", () => ({ edit: () => undefined, queueIdle: () => Promise.resolve() }));

import { coveredAt, type Coverage } from "./coverage";

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
