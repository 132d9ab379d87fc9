import { describe, expect, it } from "vitest";
import { endsOf, notKept, poseOf, signalsOf, spaceOf, type Body } from "./bodies";

const bar: Body = {
  part: "b",
  name: "Bar",
  kind: "body",
  x: "b.x",
  y: "b.y",
  angle: "b.phi",
  quaternion: [],
  points: [
    { x: 0, y: 0 },
    { x: 2, y: 0 },
  ],
  size: [],
  thick: 0.2,
  forces: [{ x: "b.a.x", y: "b.a.y", force: ["b.a.fx", "b.a.fy"], torque: ["b.a.t"] }],
  shapes: [],
};
const free: Body = {
  ...bar,
  part: "f",
  kind: "space",
  z: "f.z",
  angle: null,
  quaternion: ["q1", "q2", "q3", "q4"],
  points: [],
  size: [1, 2, 3],
};
const from = (values: Record<string, number>) => (signal: string) => values[signal] ?? NaN;

describe("bodies in a scene", () => {
  it("ask for each of their signals once", () => {
    expect(signalsOf([bar, { ...bar, part: "c" }])).toEqual(["b.x", "b.y", "b.phi", "b.a.x", "b.a.y", "b.a.fx", "b.a.fy", "b.a.t"]);
  });

  it("are named where a run has not kept their places", () => {
    const kept = { times: [0, 1] };
    const series = new Map([
      ["b.x", kept],
      ["b.y", kept],
      ["b.phi", kept],
      ["f.z", { times: [] }],
    ]);
    expect(notKept([bar], series)).toEqual([]);
    expect(notKept([bar, { ...free, name: "Free" }], series)).toEqual(["Free"]);
    expect(notKept([bar], new Map())).toEqual(["Bar"]);
  });

  it("turn in the plane about the axis towards the reader", () => {
    const { position, rotation } = poseOf(bar, from({ "b.x": 1, "b.y": 2, "b.phi": Math.PI / 2 }));
    expect(position).toEqual([1, 2, 0]);
    expect(rotation[2]).toBeCloseTo(Math.SQRT1_2);
    expect(rotation[3]).toBeCloseTo(Math.SQRT1_2);
  });

  it("stand with z of space upwards in the picture", () => {
    const quarter = Math.SQRT1_2;
    const { position, rotation } = poseOf(free, from({ "b.x": 1, "b.y": 2, "f.z": 3, q1: quarter, q2: 0, q3: 0, q4: quarter }));
    expect(position).toEqual([1, 3, -2]);
    // A quarter turn about z is one about the picture's y.
    expect(rotation[1]).toBeCloseTo(quarter);
    expect(rotation[3]).toBeCloseTo(quarter);
  });

  it("keep half a turn about an axis of their own", () => {
    const { rotation } = poseOf(free, from({ "b.x": 0, "b.y": 0, "f.z": 0, q1: 0, q2: 1, q3: 0, q4: 0 }));
    expect(rotation.map((r) => r + 0)).toEqual([1, 0, 0, 0]);
  });

  it("stand still at nothing until something is known of them", () => {
    expect(poseOf(bar, from({}))).toEqual({ position: [0, 0, 0], rotation: [0, 0, 0, 1] });
    expect(endsOf({ ...bar, x2: "b.x2", y2: "b.y2" }, from({ "b.x2": 4 }))).toEqual([
      { x: 0, y: 0 },
      { x: 4, y: 0 },
    ]);
  });

  it("take the space of all their points at all instants", () => {
    const { least, most } = spaceOf([bar], [from({ "b.x": 0, "b.y": 0, "b.phi": 0 }), from({ "b.x": 0, "b.y": 0, "b.phi": Math.PI / 2 })]);
    expect(most[0]).toBeCloseTo(2.1);
    expect(most[1]).toBeCloseTo(2.1);
    expect(least[0]).toBeCloseTo(-0.1);
    expect(most[2] - least[2]).toBeCloseTo(0.5);
  });
});
