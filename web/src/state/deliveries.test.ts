import { beforeEach, describe, expect, test, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  queueIdle: () => Promise.resolve(),
}));

import { useBench } from "./bench";
import { handOn, inOrder, reachOf, shownDelivery, useDeliveries, type Delivery, type DeliveryCheck } from "./deliveries";
import type { Operation } from "./document";

const node = (order: number): Delivery => ({
  name: `D${order}`,
  order,
  kind: "code",
  part: "p",
  step: "1 ms",
  method: "euler",
  isFloat: false,
  isSolvedOutside: false,
});
const counts = [
  { line: 4, count: 10, ways: 0, reached: 0 },
  { line: 5, count: 10, ways: 2, reached: 1 },
  { line: 6, count: 0, ways: 0, reached: 0 },
];

beforeEach(() => {
  made.length = 0;
});

describe("deliveries", () => {
  test("stand in their order; the first is shown where none is chosen or the chosen one is gone", () => {
    const all = { b: node(2), a: node(1) };
    expect(inOrder(all).map(([id]) => id)).toEqual(["a", "b"]);
    expect(shownDelivery(all, null)).toBe("a");
    expect(shownDelivery(all, "b")).toBe("b");
    expect(shownDelivery(all, "gone")).toBe("a");
    expect(shownDelivery({}, null)).toBeNull();
  });

  test("counts of another code are none of this one", () => {
    const check = { hash: "1", counts } as unknown as DeliveryCheck;
    expect(reachOf(check, "1").get(5)?.reached).toBe(1);
    expect(reachOf(check, "2").size).toBe(0);
    expect(reachOf(undefined, "1").size).toBe(0);
  });

  test("handing on marks what is shown, with the revision that the mark itself makes", () => {
    useBench.setState({ id: "m", revision: 7 });
    useDeliveries.setState({ written: { of: "a", code: { hash: "abc" } as never } });
    expect(handOn("b")).toBeNull();
    expect(made).toEqual([]);
    expect(handOn("a")).toBe("/api/models/m/deliveries/a/archive");
    expect(made[0]?.operations[0]).toMatchObject({ path: "/deliveries/a/delivered", value: { revision: 8, hash: "abc" } });
  });
});
