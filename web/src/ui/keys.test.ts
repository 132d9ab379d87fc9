import { createKeybindingsHandler } from "tinykeys";
import { describe, expect, it } from "vitest";
import { keys, keyText } from "./keys";

describe("keys", () => {
  it("are told as people read them", () => {
    expect(keyText(keys.find)).toBe("Ctrl K");
    expect(keyText(keys.redoAlso)).toBe("Ctrl Shift Z");
    expect(keyText(keys.place)).toBe("/");
  });

  it("are each bound once", () => expect(new Set(Object.values(keys)).size).toBe(Object.keys(keys).length));

  it("tell redo by Shift from undo", () => {
    const pressed: string[] = [];
    const handle = createKeybindingsHandler({ [keys.undo]: () => pressed.push("undo"), [keys.redoAlso]: () => pressed.push("redo") });
    handle(new KeyboardEvent("keydown", { key: "z", code: "KeyZ", ctrlKey: true }));
    handle(new KeyboardEvent("keydown", { key: "Z", code: "KeyZ", ctrlKey: true, shiftKey: true }));
    expect(pressed).toEqual(["undo", "redo"]);
  });
});
