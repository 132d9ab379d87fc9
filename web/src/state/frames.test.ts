import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Frame } from "../api/hub";
import { atNextDrawing, joined } from "./frames";

const frame = (time: number, more: Partial<Frame> = {}): Frame => ({
  run: "r1",
  state: "running",
  time,
  pace: 1,
  truePace: 1,
  reason: null,
  curves: [{ signal: "level", times: [time - 0.5, time], values: [time, 2 * time] }],
  values: { level: 2 * time },
  readings: {},
  alerts: [],
  verdicts: null,
  ...more,
});

describe("frames that come faster than they are drawn", () => {
  let draw: () => void = () => undefined;
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("requestAnimationFrame", (f: () => void) => ((draw = f), 1));
    vi.stubGlobal("cancelAnimationFrame", () => undefined);
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("are shown as one, with all their points and the last state", () => {
    const shown: Frame[] = [];
    const take = atNextDrawing((f) => shown.push(f));
    take(frame(1));
    take(frame(2));
    take(frame(3, { state: "paused", reason: "asked", curves: [] }));
    expect(shown).toEqual([]);
    draw();
    expect(shown).toEqual([
      frame(3, {
        state: "paused",
        reason: "asked",
        curves: [{ signal: "level", times: [0.5, 1, 1.5, 2], values: [1, 2, 2, 4] }],
      }),
    ]);
  });

  it("of two runs stay apart", () => {
    const shown: Frame[] = [];
    const take = atNextDrawing((f) => shown.push(f));
    take(frame(1));
    take(frame(7, { run: "r2" }));
    draw();
    expect(shown.map((f) => [f.run, f.time])).toEqual([
      ["r1", 1],
      ["r2", 7],
    ]);
  });

  it("are shown once, also where nothing is drawn for a while", () => {
    const shown: number[] = [];
    const take = atNextDrawing((f) => shown.push(f.time));
    take(frame(1));
    vi.advanceTimersByTime(500);
    expect(shown).toEqual([1]);
    take(frame(2));
    draw();
    vi.advanceTimersByTime(500);
    expect(shown).toEqual([1, 2]);
  });

  it("keep verdicts that only the earlier one told", () => {
    const verdicts = [{ requirement: "R1" }] as unknown as Frame["verdicts"];
    expect(joined(frame(1, { verdicts }), frame(2)).verdicts).toBe(verdicts);
  });
});
