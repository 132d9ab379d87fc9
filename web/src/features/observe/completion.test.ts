import { expect, test } from "vitest";
import { completed, wordAt } from "./completion";

test("the last word is what is completed", () => {
  expect(wordAt("maximum(dep")).toBe("dep");
  expect(wordAt("maximum(Drive.Ro")).toBe("Drive.Ro");
  expect(wordAt("maximum('Nets a")).toBe("Nets a");
  expect(wordAt("maximum(depth, ")).toBe("");
  expect(completed("2*max", "maximum(")).toBe("2*maximum(");
  expect(completed("maximum('Nets a", "'Nets and water'.depth")).toBe("maximum('Nets and water'.depth");
});
