import { beforeEach, expect, it, vi } from "vitest";
import { onlyLooks, useBench } from "./bench";
import type { ModelDocument } from "./document";

const sent: string[] = [];
vi.mock("../api/client", () => ({
  api: { POST: (path: string) => sent.push(path) },
  ask: () => new Promise(() => undefined),
  ApiError: Error,
}));

const { edit, move, restore, restructure } = await import("./model");

const model = {
  root: "main",
  definitions: { main: { kind: "diagram", name: "M", parts: {}, wires: {}, signals: {}, parameters: {}, areas: {}, notes: {} } },
} as unknown as ModelDocument;
const rename = [{ op: "replace" as const, path: "/definitions/main/name", value: "N" }];

beforeEach(() => {
  sent.length = 0;
  useBench.setState({ id: "m", model, level: "", revision: 3, may: "edit", looks: false, refused: 0 });
});

it.each([
  ["view", false, true],
  ["view", true, true],
  ["edit", true, true],
  ["edit", false, false],
  ["administer", false, false],
] as const)("with the right to %s and a link for looking %s, only looks: %s", (may, looks, only) =>
  expect(onlyLooks({ may, looks })).toBe(only),
);

it("changes nothing and sends nothing where it only looks, and counts what was tried", async () => {
  useBench.setState({ looks: true });
  edit("Rename model", rename);
  await move("undo");
  await restore(1);
  expect(await restructure({ kind: "expand", part: "p" } as never)).toBeNull();
  expect(sent).toEqual([]);
  expect(useBench.getState().model).toBe(model);
  expect(useBench.getState().refused).toBe(4);
});

it("changes the model where one may", () => {
  edit("Rename model", rename);
  expect(useBench.getState().model.definitions.main?.name).toBe("N");
  expect(sent).toEqual(["/api/models/{id}/edits"]);
});
