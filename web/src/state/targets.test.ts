import { beforeEach, expect, test, vi } from "vitest";

const asked: { path: string; body: unknown }[] = [];
const begun: string[] = [];
vi.mock("../api/client", () => ({
  api: {
    POST: (path: string, { body }: { body: unknown }) => {
      asked.push({ path, body });
      return Promise.resolve({ id: "r9" });
    },
    GET: () => Promise.resolve({ part: "ctl", active: 2 }),
  },
  ask: (answer: Promise<unknown>) => answer,
}));
vi.mock("./model", () => ({ edit: () => undefined, queueIdle: () => Promise.resolve() }));
vi.mock("./observe", () => ({ refreshRuns: () => Promise.resolve(), refreshCurves: () => Promise.resolve() }));
vi.mock("./play", () => ({
  takeUp: (id: string) => Promise.resolve(begun.push(id)),
  setPace: (pace: number | null) => Promise.resolve(begun.push(`pace ${pace}`)),
  goOn: () => Promise.resolve(begun.push("go")),
}));

import { useBench } from "./bench";
import type { Delivery } from "./deliveries";
import { handOver, runOnTarget, takers } from "./targets";

const node = (order: number, part: string, kind: Delivery["kind"] = "code"): Delivery => ({
  name: `D${order}`,
  order,
  kind,
  part,
  step: "1 ms",
  method: "euler",
  isFloat: false,
  isSolvedOutside: false,
});
const deliveries = { a: node(1, "ctl"), b: node(2, "ctl"), c: node(3, "other"), d: node(4, "ctl", "exchangeUnit") };
const run = (own: object) => ({ id: "r1", ...own }) as never;

beforeEach(() => {
  asked.length = begun.length = 0;
  const { model } = useBench.getState();
  useBench.setState({ id: "m", run: null, overlays: [], model: { ...model, deliveries } });
});

test("what can have the plant in turn is the code of the same part, the given one first", () => {
  expect(takers(deliveries, "b")).toEqual(["b", "a"]);
  expect(takers(deliveries, "c")).toEqual(["c"]);
});

test("a run on a target goes by the clock, with the model's own run beside it", async () => {
  useBench.setState({ run: run({}) });
  await runOnTarget("a");
  expect(asked).toEqual([{ path: "/api/models/{id}/targets", body: { deliveries: ["a", "b"], kind: "process" } }]);
  expect(begun).toEqual(["r9", "pace 1", "go"]);
  expect(useBench.getState().ghost).toBe("r1");
});

test("a simulated board goes as fast as it can", async () => {
  await runOnTarget("c", "board");
  expect(asked).toEqual([{ path: "/api/models/{id}/targets", body: { deliveries: ["c"], kind: "board" } }]);
  expect(begun).toEqual(["r9", "pace null", "go"]);
});

test("a unit gets the plant as a value of the part that the code stands for", async () => {
  await handOver(2);
  expect(asked).toEqual([]);
  useBench.setState({ run: run({ target: { part: "ctl", active: 1 } }) });
  await handOver(2);
  expect(asked[0]).toEqual({ path: "/api/runs/{id}/set", body: { part: "ctl", parameter: "target_unit", value: "2", fault: null } });
  expect(useBench.getState().run?.target?.active).toBe(2);
});
