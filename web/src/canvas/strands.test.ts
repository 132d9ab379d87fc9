import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import { strandsOf } from "./strands";

const port = (name: string, side: string, kind = "any") => ({ name, side, kind, isInput: side === "left" });

const view = (shape: string, ports: ReturnType<typeof port>[], width = 80, height = 64) => ({ shape, ports, width, height }) as PartView;

describe("the strands of a plate", () => {
  it("lead from each member to the edge of the whole", () => {
    const strands = strandsOf(view("bar", [port("a", "left"), port("b", "left"), port("bundle", "right", "bundle")]), {});
    expect(strands?.map((s) => [s.label, s.side, s.path])).toEqual([
      ["a", "left", "M54 24C64.5 24 64.5 32 75 32"],
      ["b", "left", "M54 40C64.5 40 64.5 32 75 32"],
    ]);
  });

  it("run together at the level's edge for a port of the level, which also gives all", () => {
    const strands = strandsOf(view("bar", [port("a", "right"), port("bundle", "right", "bundle")]), {});
    expect(strands?.map((s) => s.label)).toEqual(["a", "all"]);
    expect(strands?.every((s) => s.path.endsWith("5 32"))).toBe(true);
  });

  it("count the elements of a vector", () => {
    const ports = [port("u[1]", "left", "real"), port("u[2]", "left", "real"), port("y", "right", "vector")];
    expect(strandsOf(view("stack", ports, 40), {})?.map((s) => s.label)).toEqual(["1", "2"]);
    const turned = strandsOf(view("stack", ports, 64, 40), { turn: 1 });
    expect(turned?.map((s) => s.side)).toEqual(["top", "top"]);
  });

  it("are none for other parts", () => expect(strandsOf(view("plate", [port("u", "left")]), {})).toBeNull());
});
