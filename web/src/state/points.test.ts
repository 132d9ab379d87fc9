import { describe, expect, it } from "vitest";
import { freeName } from "./points";

describe("names of saved points", () => {
  it("takes the first number that is free", () => {
    expect(freeName([], "Full")).toBe("Full");
    expect(freeName(["Full"], "Full")).toBe("Full 2");
    expect(freeName(["Full", "Full 2", "Full 4"], "Full")).toBe("Full 3");
  });
});
