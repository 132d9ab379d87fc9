import { expect, it } from "vitest";
import { Heap } from "./heap";

it("a heap gives back what was put in, the least first", () => {
  const heap = new Heap();
  const keys = Array.from({ length: 3000 }, (_, i) => (i * 7919) % 3001);
  keys.forEach((key, i) => heap.push(key, i));
  const back = keys.map(() => keys[heap.pop()] as number);
  expect(back).toEqual([...keys].sort((a, b) => a - b));
  expect(heap.pop()).toBe(-1);
});

it("a heap gives the newest of equal ones first", () => {
  const heap = new Heap();
  for (const item of [1, 2, 3]) heap.push(5, item);
  expect(heap.pop()).toBe(3);
});
