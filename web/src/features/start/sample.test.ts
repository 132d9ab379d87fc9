import { describe, expect, test } from "vitest";
import { sampleOf, type Schemas } from "./sample";

const schemas: Schemas = {
  Order: {
    type: "object",
    required: ["part", "steps", "how"],
    properties: {
      part: { type: "string" },
      steps: { type: ["integer", "string"] },
      how: { $ref: "#/components/schemas/How" },
      note: { type: "string" },
    },
  },
  How: { enum: ["fast", "slow"] },
  Tree: { type: "object", required: ["inner"], properties: { inner: { $ref: "#/components/schemas/Tree" } } },
};

describe("samples of what the interface takes", () => {
  test("hold what is needed, with the first of each choice", () =>
    expect(sampleOf({ $ref: "#/components/schemas/Order" }, schemas)).toEqual({ part: "text", steps: 0, how: "fast" }));

  test("have one entry in lists and tables", () => {
    expect(sampleOf({ type: "array", items: { type: "boolean" } }, schemas)).toEqual([false]);
    expect(sampleOf({ type: "object", additionalProperties: { type: "number" } }, schemas)).toEqual({ name: 0 });
  });

  test("end where a shape holds itself", () =>
    expect(JSON.stringify(sampleOf({ $ref: "#/components/schemas/Tree" }, schemas))).toContain('"inner":"Tree"'));

  test("take what is there rather than nothing", () =>
    expect(sampleOf({ oneOf: [{ type: "null" }, { $ref: "#/components/schemas/How" }] }, schemas)).toBe("fast"));
});
