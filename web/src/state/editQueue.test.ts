import { describe, expect, it } from "vitest";
import { EditQueue, type EditDoor, type EditFailure, type PendingEdit } from "./editQueue";

const edit = (label: string): PendingEdit => ({ label, operations: [{ op: "add", path: "/x", value: label }] });
const failure = (status: number): EditFailure => ({ status, message: `status ${status}` });

/** A door that answers from a script: a failure is thrown, anything else is an answer. */
function scripted(script: (EditFailure | string)[]) {
  const log: string[] = [];
  const door: EditDoor<string> = {
    send: (e) => {
      log.push(`send ${e.label}`);
      const next = script.shift() ?? "ok";
      return typeof next === "string" ? Promise.resolve(next) : Promise.reject(next as unknown as Error);
    },
    stored: (answer, waiting) => void log.push(`stored ${answer}, ${waiting} wait`),
    takeTheirs: () => {
      log.push("take theirs");
      return Promise.resolve();
    },
    clashed: (edits, f) => {
      log.push(`${f.clash?.by} against ${edits.map((e) => e.label).join(", ")}`);
      return Promise.resolve();
    },
    refused: (e, f) => {
      log.push(`refused ${e.label}: ${f.message}`);
      return Promise.resolve();
    },
    unreachable: () => {
      log.push("unreachable");
      return Promise.resolve();
    },
  };
  return { door, log };
}

describe("the edit queue", () => {
  it("stores edits one after the other in the order in which they were made", async () => {
    const { door, log } = scripted([]);
    const queue = new EditQueue(door);
    ["a", "b", "c"].forEach((l) => queue.push(edit(l)));
    await queue.idle();
    expect(log).toEqual(["send a", "stored ok, 2 wait", "send b", "stored ok, 1 wait", "send c", "stored ok, 0 wait"]);
  });

  it("keeps an edit while the server does not answer", async () => {
    const { door, log } = scripted([failure(0), failure(0), "late"]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    await queue.idle();
    expect(log).toEqual(["send a", "unreachable", "send a", "unreachable", "send a", "stored late, 0 wait"]);
  });

  it("keeps an edit while somebody has to sign in again", async () => {
    const { door, log } = scripted([failure(401), "in again"]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    await queue.idle();
    expect(log).toEqual(["send a", "unreachable", "send a", "stored in again, 0 wait"]);
  });

  it("makes an edit again on top of somebody else's", async () => {
    const { door, log } = scripted([failure(409)]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    await queue.idle();
    expect(log).toEqual(["send a", "take theirs", "send a", "stored ok, 0 wait"]);
  });

  it("leaves it to the user where somebody else has changed the same", async () => {
    const { door, log } = scripted([{ ...failure(409), clash: { by: "Ann", label: "Set k" } }]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    queue.push(edit("b"));
    await queue.idle();
    expect(log).toEqual(["send a", "Ann against a, b"]);
    expect(queue.edits).toEqual([]);
  });

  it("gives up after three conflicts in a row", async () => {
    const { door, log } = scripted([failure(409), failure(409), failure(409), failure(409)]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    await queue.idle();
    expect(log.filter((l) => l === "take theirs")).toHaveLength(3);
    expect(log.at(-1)).toBe("refused a: status 409");
    expect(queue.edits).toEqual([]);
  });

  it("drops what was made on top of a refused edit, and takes new ones", async () => {
    const { door, log } = scripted([failure(422)]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    queue.push(edit("b"));
    await queue.idle();
    queue.push(edit("c"));
    await queue.idle();
    expect(log).toEqual(["send a", "refused a: status 422", "send c", "stored ok, 0 wait"]);
  });

  it("refuses an edit that does not fit what others made of the model", async () => {
    const { door, log } = scripted([failure(409)]);
    door.takeTheirs = () => Promise.reject(new Error("nothing at p1"));
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    await queue.idle();
    expect(log).toEqual(["send a", "refused a: status 409"]);
  });

  it("forgets what waits when the model is closed, also the edit under way", async () => {
    const { door, log } = scripted([]);
    const queue = new EditQueue(door);
    queue.push(edit("a"));
    queue.push(edit("b"));
    queue.clear();
    await queue.idle();
    expect(log).toEqual(["send a"]);
  });
});
