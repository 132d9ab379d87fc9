import { describe, expect, test } from "vitest";
import { tokenLines } from "./cTokens";

const kinds = (line: string) =>
  tokenLines(line)[0]
    ?.filter((t) => t.text.trim() !== "")
    .map((t) => `${t.kind}:${t.text}`);

describe("pieces of C", () => {
  test("keywords, parameters and numbers are told apart", () =>
    expect(kinds("const double v = p->k * 2.5e-3;")).toEqual([
      "keyword:const",
      "keyword:double",
      "plain:v",
      "plain:=",
      "parameter:p->k",
      "plain:*",
      "number:2.5e",
      "plain:-",
      "number:3",
      "plain:;",
    ]));

  test("comments go over lines", () => {
    const lines = tokenLines("a /* one\ntwo */ b");
    expect(lines[0]?.at(-1)).toEqual({ kind: "comment", text: "/* one" });
    expect(lines[1]?.[0]).toEqual({ kind: "comment", text: "two */" });
    expect(lines[1]?.at(-1)).toEqual({ kind: "plain", text: "b" });
  });

  test("nothing is lost", () => {
    const source = '#include "unit.h"\n\tif (a && !b) { y->u = -1.0F; } /* end */';
    expect(
      tokenLines(source)
        .map((l) => l.map((t) => t.text).join(""))
        .join("\n"),
    ).toBe(source);
  });
});
