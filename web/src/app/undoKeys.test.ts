// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import { keepsItsUndo } from "./undoKeys";

const made = (html: string) => {
  document.body.innerHTML = html;
  return document.body.querySelector("[data-me]") as Element;
};

beforeEach(() => (document.body.innerHTML = ""));

describe("keepsItsUndo", () => {
  it("is the field's while something is typed", () => {
    expect(keepsItsUndo(made('<input data-me data-draft="true" value="3">'))).toBe(true);
    const name = made('<input data-me value="Lag">') as HTMLInputElement;
    name.value = "Lag 2";
    expect(keepsItsUndo(name)).toBe(true);
  });

  it("is the model's once it is taken over", () => {
    expect(keepsItsUndo(made('<input data-me data-draft="false" value="3">'))).toBe(false);
    expect(keepsItsUndo(made('<input data-me value="Lag">'))).toBe(false);
    expect(keepsItsUndo(made("<button data-me>Apply</button>"))).toBe(false);
    expect(keepsItsUndo(made("<div data-me tabindex=0></div>"))).toBe(false);
  });

  it("is the dialog's inside one, and the model's where an editor has nothing left to undo", () => {
    expect(keepsItsUndo(made('<div class="cm-editor"><div data-me contenteditable="true"></div></div>'))).toBe(false);
    expect(keepsItsUndo(made('<div role="dialog"><input data-me></div>'))).toBe(true);
  });
});
