import { expect, it } from "vitest";
import { tokensFor, type Token } from "./tokens";

/** Relative luminance and contrast as WCAG 2.2 defines them. */
function luminance(color: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(color.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const texts: [Token, Token][] = [
  ["ink", "paper"],
  ["quiet", "paper"],
  ["faint", "paper"],
  ["buoy-deep", "buoy-wash"],
  ["met-deep", "met-wash"],
  ["missed", "missed-wash"],
  ["caution-deep", "caution-wash"],
  ["night-quiet", "night"],
];

it.each(texts)("%s on %s can be read", (text, ground) => {
  const day = tokensFor(false);
  expect(contrast(day[text], day[ground])).toBeGreaterThanOrEqual(4.5);
});

it.each(texts)("where more contrast is wished for, %s on %s has it", (text, ground) => {
  const [day, strong] = [tokensFor(false), tokensFor(true)];
  expect(contrast(strong[text], strong[ground])).toBeGreaterThanOrEqual(Math.min(7, contrast(day[text], day[ground])));
});

it("where more contrast is wished for, quiet text has the highest level and lines can be seen", () => {
  const strong = tokensFor(true);
  for (const text of ["quiet", "faint"] as const) expect(contrast(strong[text], strong.paper)).toBeGreaterThanOrEqual(7);
  expect(contrast(strong.line, strong.surface)).toBeGreaterThanOrEqual(3);
});
