import { describe, expect, it } from "vitest";
import { askOf, emptyAsk, requestOf } from "./PointForm";

describe("what is asked of an operating point", () => {
  it("leaves rows out that are not filled in, and tells values from bounds", () => {
    const request = requestOf({
      ...emptyAsk,
      at: "12",
      fixed: [
        { signal: "a.y", relation: "is", value: "3 m", high: "9" },
        { signal: "b.y", relation: "least", value: "1", high: "" },
        { signal: "c.y", relation: "most", value: "2", high: "" },
        { signal: "d.y", relation: "between", value: "1", high: "4" },
        { signal: "", relation: "is", value: "7", high: "" },
      ],
      free: [
        { parameter: "s.k", low: "", high: "5" },
        { parameter: "", low: "1", high: "" },
      ],
      set: [{ parameter: "s.T", value: "" }],
      moving: ["", "e.x"],
    });
    expect(request.at).toBe(12);
    expect(request.fixed).toEqual([
      { signal: "a.y", value: "3 m", low: null, high: null },
      { signal: "b.y", value: null, low: "1", high: null },
      { signal: "c.y", value: null, low: null, high: "2" },
      { signal: "d.y", value: null, low: "1", high: "4" },
    ]);
    expect(request.free).toEqual([{ parameter: "s.k", low: null, high: "5" }]);
    expect(request.set).toEqual([]);
    expect(request.moving).toEqual(["e.x"]);
    expect(requestOf(emptyAsk).at).toBeNull();
  });

  it("asks a saved point again as it was asked", () => {
    const ask = askOf({
      name: "Full",
      at: 0,
      rests: true,
      moving: ["e.x"],
      parameters: [
        { target: "s.k", value: "4" },
        { target: "s.T", value: "2 s" },
      ],
      fixed: [{ target: "d.y", low: "1", high: "4" }],
      free: [{ target: "s.k", high: "5" }],
      states: [],
      // A document leaves out what is not there.
    } as unknown as Parameters<typeof askOf>[0]);
    // What was found is found again; what was set is set again.
    expect(ask.set).toEqual([{ parameter: "s.T", value: "2 s" }]);
    expect(ask.fixed).toEqual([{ signal: "d.y", relation: "between", value: "1", high: "4" }]);
    expect(ask.free).toEqual([{ parameter: "s.k", low: "", high: "5" }]);
    expect(ask.at).toBe("");
    expect(ask.kind).toBe("rest");
  });
});
