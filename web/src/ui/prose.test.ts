import { describe, expect, it } from "vitest";
import { piecesOf } from "./prose";

describe("a text with mathematics and links", () => {
  it("is split at both", () => {
    expect(piecesOf("see $x^2$ in [the manual](https://a.example/b) of [Gate](#Gate).")).toEqual([
      { kind: "words", text: "see " },
      { kind: "math", text: "x^2" },
      { kind: "words", text: " in " },
      { kind: "page", text: "the manual", target: "https://a.example/b" },
      { kind: "words", text: " of " },
      { kind: "part", text: "Gate", target: "Gate" },
      { kind: "words", text: "." },
    ]);
  });

  it("leads nowhere but to pages and parts", () => {
    for (const text of ["[a](javascript:alert(1))", "[a](data:text/html,b)", "[a](file:///etc)", "[](https://a.example)", "[a] (#b)"])
      expect(piecesOf(text).map((p) => p.kind)).toEqual(["words"]);
  });

  it("keeps a plain text whole", () => expect(piecesOf("a [b] (c)")).toEqual([{ kind: "words", text: "a [b] (c)" }]));
});
