import { describe, expect, it } from "vitest";
import type { Body } from "./bodies";
import { forceOf, largestOf, placeOf, sizeText, torqueOf } from "./loads";

const from = (values: Record<string, number>) => (signal: string) => values[signal] ?? NaN;
const plane = { x: "x", y: "y", force: ["fx", "fy"], torque: ["t"] };
const space = { x: "x", y: "y", z: "z", force: ["f1", "f2", "f3"], torque: ["t1", "t2", "t3"] };
const plain: Body = {
  part: "b",
  name: "B",
  kind: "body",
  x: "x",
  y: "y",
  quaternion: [],
  points: [],
  size: [],
  thick: 0,
  forces: [],
  shapes: [],
};

describe("forces and torques", () => {
  it("lie in the plane, and turn about the axis towards the reader", () => {
    const read = from({ x: 1, y: 2, fx: 3, fy: 4, t: -5 });
    expect([placeOf(plane, read), forceOf(plane, read), torqueOf(plane, plain, read)]).toEqual([
      [1, 2, 0],
      [3, 4, 0],
      [0, 0, -5],
    ]);
  });

  it("have z upwards in space", () => {
    const read = from({ x: 1, y: 2, z: 3, f1: 4, f2: 5, f3: 6 });
    expect(placeOf(space, read)).toEqual([1, 3, -2]);
    expect(forceOf(space, read)).toEqual([4, 6, -5]);
  });

  it("turn with the body that the torque is told in", () => {
    // A quarter turn about z upwards takes the body's x to y, which points away from the reader.
    const half = Math.SQRT1_2;
    const body = { ...plain, z: "z", quaternion: ["q1", "q2", "q3", "q4"] };
    const [x, y, z] = torqueOf(space, body, from({ t1: 7, t2: 0, t3: 0, q1: half, q2: 0, q3: 0, q4: half }));
    expect(x).toBeCloseTo(0);
    expect(y).toBeCloseTo(0);
    expect(z).toBeCloseTo(-7);
  });

  it("are nothing until something is known of them", () => {
    expect(forceOf(plane, from({}))).toEqual([0, 0, 0]);
    expect(largestOf([{ ...plain, forces: [plane] }], [from({})])).toEqual({ force: 0, torque: 0 });
  });

  it("are compared with the largest of the run", () => {
    const reads = [from({ fx: 3, fy: 4, t: 1 }), from({ fx: 0, fy: -2, t: -6 })];
    expect(largestOf([{ ...plain, forces: [plane] }], reads)).toEqual({ force: 5, torque: 6 });
  });

  it("are told with the prefix that fits", () => {
    expect([12_345, 987.6, 2.5e6, 0.0123].map((v) => sizeText(v, "N"))).toEqual(["12.3 kN", "988 N", "2.5 MN", "12.3 mN"]);
  });
});
