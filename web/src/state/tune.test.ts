import { beforeEach, describe, expect, test, vi } from "vitest";

const { post, edit, notify, bench } = vi.hoisted(() => ({ post: vi.fn(), edit: vi.fn(), notify: vi.fn(), bench: { id: "m" } }));

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), api: { POST: post }, ask: (call: unknown) => call }));
vi.mock("./model", () => ({ edit }));
vi.mock("./bench", () => ({ notify, useBench: { getState: () => ({ id: bench.id }) } }));

import { ApiError, type DesignAsk } from "../api/client";
import {
  APPLIED,
  apply,
  askFor,
  chooseLoop,
  dragTo,
  dropCandidate,
  HAND,
  keep,
  readLoops,
  setForm,
  setRatio,
  setWishes,
  useTune,
} from "./tune";

interface Body {
  asks: DesignAsk[];
  form: string;
  wishes: { noiseGain: number | null };
}

const gains = (k: number) => ({ form: "PI", k, ti: 1, td: null, b: null, rejection: null });
const design = (a: DesignAsk) => ({
  name: a.name,
  gains: a.gains ?? gains(a.place ? a.place.bandwidth : 7),
  figures: { isStable: true },
  missed: [],
  texts: { form: "Form.PI", k: "2 N.m" },
});
const loop = {
  part: "p/c",
  name: "Speed",
  path: "P.Speed",
  around: null,
  pointer: "/definitions/d/parts/c/parameters",
  order: 1,
  gains: gains(7),
};
const outer = { ...loop, part: "p/o", name: "Depth", gains: { ...gains(3), form: "PID" } };

/** A server that answers as the real one does, as far as the store can tell. */
function answers(path: string, body: Body): unknown {
  if (path.endsWith("/loops")) return { point: "at rest", loops: [loop, outer] };
  if (path.endsWith("/map")) return { form: body.form, bandwidths: [1, 10], advice: { best: { bandwidth: 5, sensitivity: 1.5 } } };
  if (path.endsWith("/designs")) return { frequencies: [1, 10], times: [0, 2], designs: body.asks.map(design) };
  return { error: { times: [], values: [] } };
}

const calls = (end: string) =>
  post.mock.calls.filter(([path]) => (path as string).endsWith(end)).map(([, o]) => (o as { body: Body }).body);
const settled = async () => {
  for (let i = 0; i < 40; i++) await Promise.resolve();
};

beforeEach(async () => {
  vi.clearAllMocks();
  localStorage.clear();
  bench.id = "m";
  post.mockImplementation((path: string, options: { body: Body }) => Promise.resolve(answers(path, options.body)));
  useTune.setState({ part: null, loops: [], candidates: [], hand: null, designs: new Map(), window: null, map: null, problem: null });
  readLoops();
  await settled();
});

describe("the tune stage", () => {
  test("begins with the innermost loop, its map, and the best place in hand", () => {
    expect(useTune.getState().part).toBe("p/c");
    expect([...useTune.getState().designs.keys()]).toEqual([APPLIED, HAND]);
    expect(calls("/designs")[0]?.asks[1]?.place).toEqual({ form: "PI", ratio: null, bandwidth: 5, sensitivity: 1.5 });
    expect(useTune.getState().window).toEqual({ from: 1, to: 10, end: 2 });
  });

  test("designs only the last place of a drag, and runs the model with it", async () => {
    for (const w of [6, 7, 8]) dragTo(w, 1.4);
    await settled();
    const places = calls("/designs").flatMap((b) => b.asks.map((a) => a.place?.bandwidth));
    expect(places).not.toContain(7);
    expect(places.at(-1)).toBe(8);
    expect(useTune.getState().hand?.k).toBe(8);
    expect(calls("/run").length).toBeGreaterThan(0);
  });

  test("gives candidates the first free letter", async () => {
    keep(gains(1), "one");
    keep(gains(2), "two");
    dropCandidate("A");
    keep(gains(3), "three");
    await settled();
    expect(useTune.getState().candidates.map((c) => [c.name, c.origin])).toEqual([
      ["B", "two"],
      ["A", "three"],
    ]);
    for (let i = 0; i < 8; i++) keep(gains(i), "more");
    expect(useTune.getState().candidates).toHaveLength(8);
    expect(notify).toHaveBeenCalledWith(expect.stringContaining("eight"));
  });

  test("keeps what was done to a loop while another one is looked at", async () => {
    keep(gains(4), "mine");
    chooseLoop("p/o");
    await settled();
    expect(useTune.getState().candidates).toEqual([]);
    expect(useTune.getState().form).toBe("PID");
    chooseLoop("p/c");
    await settled();
    expect(useTune.getState().candidates.map((c) => c.origin)).toEqual(["mine"]);
    expect(useTune.getState().form).toBe("PI");
  });

  test("has candidates and wishes again when the page is opened again", async () => {
    keep(gains(4), "mine");
    setWishes({ noiseGain: 9 });
    await settled();
    useTune.setState({ part: null, candidates: [], hand: null, loops: [] });
    readLoops();
    await settled();
    expect(useTune.getState().candidates.map((c) => c.origin)).toEqual(["mine"]);
    expect(useTune.getState().wishes.noiseGain).toBe(9);
    localStorage.setItem("anchor-bend tune m p/o", "{nonsense");
    chooseLoop("p/o");
    expect(useTune.getState().candidates).toEqual([]);
  });

  test("takes nothing over to another model, even where its loops are called alike", async () => {
    keep(gains(4), "mine");
    await settled();
    bench.id = "n";
    readLoops();
    await settled();
    expect(useTune.getState().part).toBe("p/c");
    expect(useTune.getState().candidates).toEqual([]);
  });

  test("puts another part in the controller's place where its own cannot have the gains", async () => {
    post.mockImplementation((path: string, options: { body: Body }) =>
      Promise.resolve(
        path.endsWith("/designs")
          ? {
              frequencies: [1],
              times: [1],
              designs: options.body.asks.map((a) => ({
                ...design(a),
                replacement: { type: "DisturbanceRejection", loose: ["/definitions/d/wires/w"] },
              })),
            }
          : answers(path, options.body),
      ),
    );
    setForm("rejection1");
    await settled();
    setRatio(8);
    await settled();
    expect(calls("/map").at(-1)).toMatchObject({ form: "rejection1", ratio: 8 });
    apply(HAND);
    expect(edit).toHaveBeenCalledWith("Tune Speed: by hand", [
      { op: "remove", path: "/definitions/d/wires/w" },
      { op: "replace", path: "/definitions/d/parts/c/type", value: "DisturbanceRejection" },
      { op: "add", path: "/definitions/d/parts/c/parameters", value: { form: "Form.PI", k: "2 N.m" } },
    ]);
  });

  test("asks for gains and tells why there are none", async () => {
    const refused = vi.fn();
    askFor(
      {
        best: { form: "PI", goal: "load", sensitivity: 1.4, noiseGain: null, points: null, damping: null, ratio: null, weighted: null },
        margin: null,
      },
      "least load error",
      refused,
    );
    await settled();
    expect(useTune.getState().candidates.at(-1)?.origin).toBe("least load error");
    post.mockImplementationOnce(() => Promise.resolve({ designs: [{ name: "asked", gains: null, problem: "No PI keeps these limits." }] }));
    askFor({ best: null, margin: { form: "PI", bandwidth: 1, phaseMargin: 60 } }, "asked", refused);
    await settled();
    expect(refused).toHaveBeenCalledWith("No PI keeps these limits.");
  });

  test("tells why a design has no true run, and no longer where it has one", async () => {
    const real = post.getMockImplementation() as (path: string, options: unknown) => unknown;
    post.mockImplementation((path: string, options: unknown) =>
      path.endsWith("/run") ? Promise.reject(new ApiError(503, "The work took longer than 30 s.")) : real(path, options),
    );
    dragTo(4, 1.4);
    await settled();
    expect(useTune.getState().noRuns.get(HAND)).toBe("The work took longer than 30 s.");
    expect(useTune.getState().runs.has(HAND)).toBe(false);
    post.mockImplementation(real);
    dragTo(5, 1.4);
    await settled();
    expect(useTune.getState().noRuns.has(HAND)).toBe(false);
    expect(useTune.getState().runs.has(HAND)).toBe(true);
  });

  test("writes the texts of a design where the controller stands", () => {
    apply(HAND);
    expect(edit).toHaveBeenCalledWith("Tune Speed: by hand", [
      { op: "add", path: "/definitions/d/parts/c/parameters/form", value: "Form.PI" },
      { op: "add", path: "/definitions/d/parts/c/parameters/k", value: "2 N.m" },
    ]);
  });

  test("draws the map anew for another form and for other wishes", async () => {
    setForm("PD");
    await settled();
    setWishes({ noiseGain: 12 });
    await settled();
    expect(calls("/map").map((b) => [b.form, b.wishes.noiseGain])).toEqual([
      ["PI", null],
      ["PD", null],
      ["PD", 12],
    ]);
  });

  test("judges gains where nothing can be mapped, and says why there is no map", async () => {
    post.mockImplementation((path: string, options: { body: Body }) =>
      path.endsWith("/map")
        ? Promise.reject(new ApiError(422, "No PI makes this loop stable."))
        : Promise.resolve(answers(path, options.body)),
    );
    setForm("PI");
    await settled();
    expect(useTune.getState().problem?.message).toBe("No PI makes this loop stable.");
    expect(useTune.getState().designs.has(APPLIED)).toBe(true);
  });
});
