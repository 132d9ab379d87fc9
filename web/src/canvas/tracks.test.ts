import { describe, expect, it } from "vitest";
import { Tracks } from "./tracks";

const row = (y: number, from: number, to: number) => [
  { x: from, y },
  { x: to, y },
];
const column = (x: number, from: number, to: number) => [
  { x, y: from },
  { x, y: to },
];

describe("tracks that ways take", () => {
  const tracks = new Tracks();
  tracks.add(row(100, 0, 400), "a");
  tracks.add(column(200, 0, 300), "b");

  it("tell the length that another way would share, near ones too, but not with its own net", () => {
    expect(tracks.shared(row(100, 300, 500), "c")).toBe(100);
    expect(tracks.shared(row(104, 300, 500), "c")).toBe(100);
    expect(tracks.shared(row(108, 300, 500), "c")).toBe(0);
    expect(tracks.shared(row(100, 300, 500), "a")).toBe(0);
  });

  it("count what a way crosses, each once however many cells it passes", () => {
    expect(tracks.crossings(column(300, 0, 300), "c")).toBe(1);
    expect(tracks.crossings(row(200, -1000, 1000), "c")).toBe(1);
    expect(tracks.crossings(row(400, -1000, 1000), "c")).toBe(0);
    expect(tracks.crossings([...column(300, 0, 50), { x: 100, y: 50 }], "c")).toBe(1);
  });

  it("list what lies near, but for a net of one's own", () => {
    expect(tracks.within(150, 50, 250, 150, "c").map((s) => s.net)).toEqual(expect.arrayContaining(["a", "b"]));
    expect(tracks.within(150, 50, 250, 150, "a").map((s) => s.net)).toEqual(["b"]);
    expect(tracks.within(2000, 2000, 2100, 2100, "c")).toEqual([]);
  });
});
