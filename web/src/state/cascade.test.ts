import { beforeEach, describe, expect, test, vi } from "vitest";

const { post, edit } = vi.hoisted(() => ({ post: vi.fn(), edit: vi.fn() }));

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), api: { POST: post }, ask: (call: unknown) => call }));
vi.mock("./model", () => ({ edit }));
vi.mock("./bench", () => ({ notify: vi.fn(), useBench: { getState: () => ({ id: "m" }) } }));

import { ApiError, type LoopView } from "../api/client";
import { applyAll, cascadeOf, setStep, settingOf, stop, tuneAll, useCascade } from "./cascade";
import { useTune } from "./tune";

const gains = (k: number) => ({ form: "PI", k, ti: 1, td: null, b: null, rejection: null });
const loop = (part: string, name: string) => ({
  part,
  name,
  path: part,
  pointer: `/parts/${part}/parameters`,
  order: 1,
  forms: ["PI", "PID"],
  gains: gains(1),
  figures: { bandwidth: 3 },
});

interface Body {
  part: string;
  before?: unknown;
  others?: unknown;
}

let answers: (url: string) => unknown = () => ({});
const sent = () => post.mock.calls.map(([, o]) => (o as { body: Body }).body);

beforeEach(() => {
  vi.clearAllMocks();
  post.mockImplementation(async (url: string) => answers(url));
  useTune.setState({ loops: [loop("i", "Speed"), loop("o", "Depth")] as unknown as LoopView[], at: null });
  cascadeOf("other 0");
  cascadeOf("m 1");
});

const step = (k: number) => ({ present: gains(1), gains: gains(k), before: {}, after: {}, texts: { k: String(k), Ti: "1 s" } });
const run = { error: { times: [0], values: [0] }, effort: { times: [0], values: [0] }, atLimit: [] };

describe("tuning all loops", () => {
  test("gives each loop what was found for those before it, then runs the model with and without", async () => {
    let k = 1;
    answers = (url) => (url.endsWith("/step") ? step(++k) : run);
    await tuneAll();
    expect(sent().map((s) => [s.part, s.before ?? s.others])).toEqual([
      ["i", []],
      ["o", [{ part: "i", gains: gains(2) }]],
      ["o", []],
      [
        "o",
        [
          { part: "i", gains: gains(2) },
          { part: "o", gains: gains(3) },
        ],
      ],
    ]);
    expect(useCascade.getState()).toMatchObject({ running: null, problem: null });
    expect(useCascade.getState().after).not.toBeNull();
  });

  test("leaves out a loop that is not wanted and asks for a bandwidth where one is wished", async () => {
    setStep("i", { included: false });
    setStep("o", { wish: "margin", bandwidth: 2, margin: 50 });
    answers = (url) => (url.endsWith("/step") ? step(2) : run);
    await tuneAll();
    expect(sent()[0]).toMatchObject({ part: "o", margin: { bandwidth: 2, phaseMargin: 50 }, sensitivity: null });
  });

  test("says at which loop it ended and keeps what was found until then", async () => {
    answers = () => {
      if (sent().length > 1) throw new ApiError(422, "No PI keeps this.", "Let it be higher.");
      return step(2);
    };
    await tuneAll();
    expect(useCascade.getState().problem).toEqual({ part: "o", text: "No PI keeps this. Let it be higher." });
    expect([...useCascade.getState().results.keys()]).toEqual(["i"]);
  });

  test("stops without a word of a failure", async () => {
    answers = () => {
      stop();
      throw new DOMException("stopped", "AbortError");
    };
    await tuneAll();
    expect(useCascade.getState()).toMatchObject({ running: null, problem: null });
  });

  test("puts all gains into the model in one edit", async () => {
    answers = (url) => (url.endsWith("/step") ? step(2) : run);
    await tuneAll();
    applyAll();
    expect(edit).toHaveBeenCalledTimes(1);
    expect(edit.mock.calls[0]?.[1]).toHaveLength(4);
    expect(edit.mock.calls[0]?.[1]?.[2]).toEqual({ op: "add", path: "/parts/o/parameters/k", value: "2" });
  });
});

describe("settings", () => {
  test("begin with what the loop has and stay while the model is edited", () => {
    expect(settingOf("i")).toMatchObject({ form: "PI", bandwidth: 3, wish: "best", peak: 1.6 });
    setStep("i", { peak: 1.4 });
    cascadeOf("m 2");
    expect(settingOf("i").peak).toBe(1.4);
    cascadeOf("n 1");
    expect(settingOf("i").peak).toBe(1.6);
  });
});
