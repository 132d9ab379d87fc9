import { describe, expect, it } from "vitest";
import { csvField } from "./saveTable";

describe("fields of comma-separated values", () => {
  it("are quoted where they hold what parts fields", () => {
    expect(csvField(0.25)).toBe("0.25");
    expect(csvField("level 1")).toBe("level 1");
    expect(csvField('at "rest", full')).toBe('"at ""rest"", full"');
  });
});
