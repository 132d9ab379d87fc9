import { expect, test } from "vitest";
import { LatestCall } from "./latestCall";

const deferred = () => {
  let resolve: (value: number) => void = () => {};
  const promise = new Promise<number>((r) => (resolve = r));
  return { promise, resolve };
};

const settled = () => new Promise((r) => setTimeout(r));

test("of calls asked for while one is under way only the last one is made", async () => {
  const calls = new LatestCall();
  const [first, last] = [deferred(), deferred()];
  const made: string[] = [];
  const answers: number[] = [];
  const ask = (name: string, promise: Promise<number>) =>
    calls.run(
      () => (made.push(name), promise),
      (a) => answers.push(a),
      () => answers.push(-1),
    );
  ask("first", first.promise);
  ask("middle", Promise.resolve(2));
  ask("last", last.promise);
  first.resolve(1);
  await settled();
  last.resolve(3);
  await settled();
  expect(made).toEqual(["first", "last"]);
  expect(answers).toEqual([3]);
});

test("after a failure the next call goes out", async () => {
  const calls = new LatestCall();
  const told: unknown[] = [];
  calls.run(
    () => Promise.reject(new Error("no")),
    () => told.push("answer"),
    (e) => told.push((e as Error).message),
  );
  await settled();
  calls.run(
    () => Promise.resolve(1),
    (a) => told.push(a),
    () => told.push("failed"),
  );
  await settled();
  expect(told).toEqual(["no", 1]);
});
