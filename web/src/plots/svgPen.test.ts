import { describe, expect, test } from "vitest";
import { paint } from "./paint";
import { pictureOf } from "./picture";
import { SvgPen } from "./svgPen";

const ruler = { font: "", measureText: (text: string) => ({ width: 6 * text.length }) as TextMetrics };

describe("a picture as SVG", () => {
  test("has lines as paths where they were drawn, with their colour and dashes", () => {
    const pen = new SvgPen(200, 100, ruler);
    pen.translate(10, 20);
    pen.strokeStyle = "#0072b2";
    pen.setLineDash([7, 3]);
    pen.beginPath();
    pen.moveTo(0, 0);
    pen.lineTo(30, 40);
    pen.stroke();
    const svg = pen.toString();
    expect(svg).toContain('width="200" height="100"');
    expect(svg).toContain('<path d="M10 20L40 60" fill="none" stroke="#0072b2"');
    expect(svg).toContain('stroke-dasharray="7 3"');
  });

  test("has text as text, anchored as it was aligned, with signs that mean something escaped", () => {
    const pen = new SvgPen(200, 100, ruler);
    pen.textAlign = "right";
    pen.fillText("p < 20 & rising", 50, 10);
    expect(pen.toString()).toContain('x="50" y="10" text-anchor="end"');
    expect(pen.toString()).toContain("p &lt; 20 &amp; rising</text>");
  });

  test("cuts off only what was drawn between save and restore", () => {
    const pen = new SvgPen(200, 100, ruler);
    pen.save();
    pen.beginPath();
    pen.rect(5, 5, 50, 50);
    pen.clip();
    pen.fillRect(0, 0, 10, 10);
    pen.restore();
    pen.fillRect(100, 0, 10, 10);
    const rows = pen.toString().split("\n");
    expect(rows.find((r) => r.includes("M0 0h10"))).toContain('clip-path="url(#c0)"');
    expect(rows.find((r) => r.includes("M100 0h10"))).not.toContain("clip-path");
  });

  test("of a plot lies within the size that was asked for and holds its curve", () => {
    const pen = new SvgPen(400, 200, ruler);
    const line = { x: [0, 5, 10], y: [0, 1, 0], color: "#d55e00" };
    paint(pen, pictureOf({ lines: [line], x: [0, 10], y: [0, 1], unit: "m", xUnit: "s", showX: true }, 400, 200));
    const curve = pen
      .toString()
      .split("\n")
      .find((r) => r.includes('stroke="#d55e00"'));
    const points = [...(curve ?? "").matchAll(/[ML]([\d.]+) ([\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])]);
    // From the left axis at 62 px to the right edge at 386 px, the peak at the upper edge of the axis.
    expect(points).toEqual([
      [62, 180],
      [224, 6],
      [386, 180],
    ]);
  });
});

describe("a limit", () => {
  test("is hatched on the side that is not allowed", () => {
    const drawn = (beyond: "above" | "below") => {
      const pen = new SvgPen(400, 200, ruler);
      const rule = { from: 0, to: 10, value: 0.5, color: "#00aa00", beyond };
      paint(pen, pictureOf({ lines: [], rules: [rule], x: [0, 10], y: [0, 1], unit: "", showX: false }, 400, 200));
      const hatch = pen
        .toString()
        .split("\n")
        .find((r) => r.includes('stroke="#00aa00"') && r.includes('stroke-width="0.8"'));
      const [, from, to] = /M[\d.]+ ([\d.]+)L[\d.]+ ([\d.]+)/.exec(hatch ?? "") ?? [];
      return Number(to) - Number(from);
    };
    expect(drawn("above")).toBe(-7);
    expect(drawn("below")).toBe(7);
  });
});

describe("time in another unit", () => {
  test("has its marks at round values of that unit", () => {
    const pen = new SvgPen(400, 200, ruler);
    paint(pen, pictureOf({ lines: [], x: [0, 7200], y: [0, 1], unit: "", xUnit: "h", xScale: 3600, showX: true }, 400, 200));
    const texts = [...pen.toString().matchAll(/>([^<>]+)<\/text>/g)].map((m) => m[1]);
    expect(texts).toContain("h");
    expect(texts.filter((t) => ["0", "0.5", "1", "1.5", "2"].includes(t as string)).length).toBeGreaterThanOrEqual(3);
    expect(texts).not.toContain("5000");
  });

  test("fills a band from its lower to its upper course and back", () => {
    const pen = new SvgPen(400, 200, ruler);
    const band = { x: [0, 10], y: [0, 0], upTo: [1, 0.5], color: "#d55e00", opacity: 0.2 };
    paint(pen, pictureOf({ lines: [band], x: [0, 10], y: [0, 1], unit: "m", xUnit: "s", showX: true }, 400, 200));
    const filled = pen
      .toString()
      .split("\n")
      .find((r) => r.includes('fill="#d55e00"'));
    const points = [...(filled ?? "").matchAll(/[ML]([\d.]+) ([\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])]);
    expect(points).toEqual([
      [62, 180],
      [386, 180],
      [386, 93],
      [62, 6],
    ]);
  });
});
