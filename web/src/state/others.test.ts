import { expect, it } from "vitest";
import { colorOfOther, initials } from "./others";

it("gives a window one colour", () => {
  expect(colorOfOther("ab12")).toBe(colorOfOther("ab12"));
  expect(new Set(["a", "b", "c", "d", "e", "f"].map(colorOfOther)).size).toBeGreaterThan(2);
});

it("shortens names to their first and last letters", () => {
  expect(initials("Ines")).toBe("I");
  expect(initials("mats de vries")).toBe("MV");
  expect(initials("  ")).toBe("?");
});
