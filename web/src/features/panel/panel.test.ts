import { describe, expect, it } from "vitest";
import { stopKey, stopsOf } from "../../state/bench";
import { readingsOf, trendsOf, type Alert, type Panel } from "../../state/panels";
import { shownAlerts } from "./AlertList";
import { arcPath, marksOf, onCircle } from "./scale";

describe("scales", () => {
  it("have round marks, about as many as wanted, from end to end", () => {
    expect(marksOf(0, 100, 5)).toEqual([0, 20, 40, 60, 80, 100]);
    expect(marksOf(-1, 1, 4)).toEqual([-1, -0.5, 0, 0.5, 1]);
    expect(marksOf(0, 0.7, 5).at(-1)).toBeCloseTo(0.6, 9);
    expect(marksOf(3, 3, 5)).toEqual([3]);
  });

  it("go from lower left over the top to lower right", () => {
    const [from, top, to] = [onCircle(0, 0, 1, 0), onCircle(0, 0, 1, 0.5), onCircle(0, 0, 1, 1)];
    expect([from.x < 0, from.y > 0, to.x > 0, to.y > 0]).toEqual([true, true, true, true]);
    expect(top.x).toBeCloseTo(0, 9);
    expect(top.y).toBeCloseTo(-1, 9);
    expect(arcPath(0, 0, 1, 0, 1)).toContain("A1 1 0 1 1");
    expect(arcPath(0, 0, 1, 0, 0.5)).toContain("A1 1 0 0 1");
  });
});

describe("alerts", () => {
  const alert = (grade: Alert["grade"], isLatched = false): Alert => ({ text: grade, grade, condition: "true", isLatched });
  const alerts = { w: alert("warning", true), c: alert("caution"), a: alert("advisory") };
  const raised = [
    { alert: "a", since: 1, until: null },
    { alert: "w", since: 2, until: 3 },
    { alert: "c", since: 4, until: null },
    { alert: "c", since: 0.5, until: 0.7 },
  ];
  const told = (time: number | null, seen: string[] = [], not: string[] = []) =>
    shownAlerts(raised, alerts, new Set(seen), new Set(not), time).map((s) => s.key);

  it("stand by grade and time", () => expect(told(5)).toEqual(["w 2", "c 4", "a 1"]));

  it("stay until they are seen where they are to, and go with their condition where not", () => {
    expect(told(5, ["w 2"])).toEqual(["c 4", "a 1"]);
    expect(told(0.6)).toEqual(["c 0.5"]);
    expect(told(0.8)).toEqual([]);
  });

  it("are those of the instant that is shown, without the inhibited ones", () => {
    expect(told(2.5)).toEqual(["w 2", "a 1"]);
    expect(told(null, [], ["a", "w"])).toEqual(["c 4"]);
  });
});

describe("what a panel asks of a run", () => {
  const item = (kind: string, target: string, second?: string) => ({ kind, target, second, x: 0, y: 0, width: 1, height: 1, choices: [] });
  const panel = {
    name: "P",
    order: 0,
    items: { a: item("slider", "q.k"), b: item("dial", "i.y", "i.u"), c: item("trend", "i.y"), d: item("lamp", "on.y") },
  } as unknown as Panel;

  it("are the signals of its instruments, each once, and the courses of its trends", () => {
    expect(readingsOf(panel)).toEqual(["i.y", "i.u", "on.y"]);
    expect(trendsOf(panel)).toEqual(["i.y"]);
    expect(readingsOf(undefined)).toEqual([]);
  });
});

describe("places where a run pauses", () => {
  it("lead back to chart, item and occasion", () =>
    expect(stopsOf(new Set([stopKey("a/m", "s1"), stopKey("m", "t2", "exit")]))).toEqual([
      { chart: "a/m", item: "s1", when: "entry" },
      { chart: "m", item: "t2", when: "exit" },
    ]));
});
