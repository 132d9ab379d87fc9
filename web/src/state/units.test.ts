import { beforeEach, expect, test, vi } from "vitest";

const made: { label: string; operations: { op: string; path: string; value: Record<string, unknown> }[] }[] = [];
let answer: () => Promise<unknown>;
vi.mock("./model", () => ({
  edit: (label: string, operations: never) => made.push({ label, operations }),
  here: (...path: string[]) => `/definitions/main/${path.join("/")}`,
  queueIdle: () => Promise.resolve(),
}));
vi.mock("../api/units", () => ({ takeUnit: () => answer() }));

import { useBench } from "./bench";
import { importUnit } from "./units";

const taken = {
  name: "Bought drive",
  version: "3.0",
  inputs: ["u"],
  outputs: ["y", "z"],
  left: ["label"],
  hasWalls: true,
  definition: { name: "Bought_drive", text: "block Bought_drive\nend Bought_drive;", unit: "ab12" },
};

beforeEach(() => {
  made.length = 0;
  const { model } = useBench.getState();
  const parts = { a: { type: "Gain", name: "Bought drive", x: 16, y: 32, flip: false, turn: 0, parameters: {} } };
  useBench.setState({
    notice: null,
    catalog: new Map(),
    diagram: { ...useBench.getState().diagram, parameters: {}, parts: parts as never },
    model: { ...model, definitions: { d0: { kind: "text", name: "Bought_drive", text: "" } as never } },
  });
});

test("a unit becomes a definition and a part of it in one step, under free names, below what is there", async () => {
  answer = () => Promise.resolve(taken);
  await importUnit(new File([], "drive.fmu"));
  expect(made).toHaveLength(1);
  const [definition, part] = made[0]?.operations ?? [];
  expect(definition?.value).toMatchObject({
    kind: "text",
    name: "Bought_drive2",
    text: "block Bought_drive2\nend Bought_drive2;",
    unit: "ab12",
  });
  expect(part?.value).toMatchObject({ type: definition?.path.replace("/definitions/", "#"), name: "Bought drive 2" });
  expect(Number(part?.value.y)).toBeGreaterThan(32);
  expect(useBench.getState().notice).toMatchObject({ text: expect.stringContaining("label") as unknown });
});

test("what is refused changes nothing and is told with the reason", async () => {
  answer = () => Promise.reject(Object.assign(new Error("It has no output that is a number."), { advice: "Ask its makers." }));
  await importUnit(new File([], "drive.fmu"));
  expect(made).toEqual([]);
  expect(useBench.getState().notice).toMatchObject({
    kind: "error",
    text: "drive.fmu is not taken in. It has no output that is a number. Ask its makers.",
  });
});
