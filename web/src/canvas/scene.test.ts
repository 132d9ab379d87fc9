import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import type { Diagram } from "../state/document";
import { memberName } from "../state/document";
import { NEW_MEMBER, targetAt, type Scene } from "./scene";

const port = (name: string, isInput: boolean, plug: string, takes: string[]) => ({
  name,
  isInput,
  side: isInput ? "left" : "right",
  kind: "real",
  plug,
  takes,
  what: "",
});
const view = (ports: object[], shape = "plate") =>
  ({ face: "", width: 64, height: 64, shape, ports, parameters: {}, actions: [] }) as unknown as PartView;
const source = view([port("y", false, "out", ["member", "in"])]);
const join = view(
  [port("a", true, "member", ["out"]), port("b", true, "member", ["out"]), port("bundle", false, "bundle", ["bundle"])],
  "bar",
);
const wire = (to: string) => ({ from: { part: "s", port: "y" }, to: { part: "j", port: to }, bends: [] });

const scene = (wires: Diagram["wires"]): Scene => ({
  diagram: {
    parts: { s: { type: "C", name: "Source", x: 0, y: 0, parameters: {} }, j: { type: "B", name: "Join", x: 200, y: 0, parameters: {} } },
    wires,
  } as unknown as Diagram,
  views: { s: source, j: join },
  routes: new Map(),
});
const from = { part: "s", port: "y" };
const middle = { x: 232, y: 32 };

describe("a wire let go on a bundle's plate", () => {
  it("takes a member that is free", () => expect(targetAt(scene({ w: wire("a") }), middle, from)).toEqual({ part: "j", port: "b" }));

  it("makes a new member where none is free", () =>
    expect(targetAt(scene({ w: wire("a"), v: wire("b") }), middle, from)).toEqual({ part: "j", port: NEW_MEMBER }));

  it("makes a member of a port for a bundle, which has all at one side", () => {
    const ofLevel = view([port("bundle", true, "either bundle", ["in bundle"])], "bar");
    const found = targetAt({ ...scene({}), views: { s: source, j: ofLevel } }, middle, from);
    expect(found).toEqual({ part: "j", port: NEW_MEMBER });
  });

  it("still meets a member that it is aimed at", () =>
    expect(targetAt(scene({ w: wire("a"), v: wire("b") }), { x: 201, y: 24 }, from)?.port).toMatch(/^[ab]$/));
});

describe("the name of a member", () => {
  it("is made of words and of none that is taken", () => {
    expect(memberName("Wind speed", new Set())).toBe("Wind_speed");
    expect(memberName("Wind speed", new Set(["Wind_speed"]))).toBe("Wind_speed_2");
    expect(memberName("2nd", new Set())).toBe("m_2nd");
    expect(memberName("bundle", new Set())).toBe("bundle_2");
  });
});
