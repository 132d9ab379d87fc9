import { describe, expect, it } from "vitest";
import type { PartView, PortView } from "../api/client";
import type { Diagram } from "./document";
import { wiringsOf } from "./wirings";

const port = (name: string, isInput: boolean, domain: string | null = null) =>
  ({
    name,
    isInput,
    side: isInput ? "left" : "right",
    plug: domain ?? (isInput ? "in" : "out"),
    takes: [domain ?? (isInput ? "out" : "in")],
    domain,
  }) as unknown as PortView;
const view = (...ports: PortView[]) => ({ width: 64, height: 48, shape: "plate", ports }) as unknown as PartView;
const node = (name: string, x: number) => ({ type: "Gain", name, x, y: 0, flip: false, turn: 0, parameters: {} });

const diagram = {
  parts: { a: node("Step", 0), b: node("Gain", 160), c: node("Lag", 320) },
  wires: { ab: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [] } },
} as unknown as Diagram;
const views = { a: view(port("y", false)), b: view(port("u", true), port("y", false)), c: view(port("u", true), port("y", false)) };

describe("wires that could be laid", () => {
  it("lead from what is free to what is free, the nearest first", () => {
    expect(wiringsOf({ diagram, views }, "b", ["a", "c"])[0]).toMatchObject({
      from: { part: "b", port: "y" },
      to: { part: "c", port: "u" },
      label: "y to u of Lag",
      isFree: true,
    });
  });

  it("tell where one would take the place of another", () => {
    const taken = wiringsOf({ diagram, views }, "c", ["b"]).find((w) => w.to.part === "b");
    expect(taken).toMatchObject({ label: "y to u of Gain", isFree: false });
  });

  it("join only what fits and is not joined yet, and a part to no port of its own", () => {
    expect(wiringsOf({ diagram, views }, "a", ["a", "b", "c"]).map((w) => w.label)).toEqual(["y to u of Lag"]);
    const flange = { ...views, c: view(port("flange", false, "rotational")) };
    expect(wiringsOf({ diagram, views: flange }, "a", ["a", "b", "c"])).toEqual([]);
  });
});
