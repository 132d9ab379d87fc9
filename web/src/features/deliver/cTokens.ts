export type TokenKind = "comment" | "keyword" | "parameter" | "number" | "text" | "plain";

export interface CToken {
  kind: TokenKind;
  text: string;
}

const KEYWORDS = new Set(
  (
    "auto bool break case char const continue default do double else enum extern false float for if inline int int32_t long " +
    "return short signed sizeof static struct switch true typedef uint32_t uint64_t union unsigned void volatile while"
  ).split(" "),
);

const PIECES = /("[^"]*"|'[^']*'|\/\*|(?:p->|s->|u->|y->)\w+|\b\d[\w.]*|\w+|\s+|.)/g;

/** The pieces of each line of C, as they are set off on the screen; comments may go over several lines. */
export function tokenLines(source: string): CToken[][] {
  let isComment = false;
  return source.split("\n").map((line) => {
    const tokens: CToken[] = [];
    let rest = line;
    while (rest) {
      if (isComment) {
        const end = rest.indexOf("*/");
        const text = end < 0 ? rest : rest.slice(0, end + 2);
        tokens.push({ kind: "comment", text });
        rest = rest.slice(text.length);
        isComment = end < 0;
        continue;
      }
      PIECES.lastIndex = 0;
      const text = PIECES.exec(rest)?.[0] ?? rest;
      if (text === "/*") {
        isComment = true;
        continue;
      }
      tokens.push({ kind: kindOf(text), text });
      rest = rest.slice(text.length);
    }
    return tokens;
  });
}

const kindOf = (text: string): TokenKind =>
  text.startsWith('"') || text.startsWith("'")
    ? "text"
    : text.startsWith("p->")
      ? "parameter"
      : /^\d/.test(text)
        ? "number"
        : KEYWORDS.has(text)
          ? "keyword"
          : "plain";
