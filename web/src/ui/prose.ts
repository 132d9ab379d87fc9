/** A stretch of a text: words, mathematics, or a link to a page or a part. */
export type Piece = { kind: "words" | "math"; text: string } | { kind: "page" | "part"; text: string; target: string };

const link = /\[([^\]\n]+)\]\((https?:\/\/[^\s)]+|#[^)\n]+)\)/g;

/** Splits a text at its mathematics and its links. Only pages of the web can be led to, nothing that a browser would run. */
export function piecesOf(text: string): Piece[] {
  return text.split("$").flatMap((stretch, i): Piece[] => {
    if (i % 2 === 1) return [{ kind: "math", text: stretch }];
    const pieces: Piece[] = [];
    let from = 0;
    for (const found of stretch.matchAll(link)) {
      const [whole, words = "", target = ""] = found;
      if (found.index > from) pieces.push({ kind: "words", text: stretch.slice(from, found.index) });
      pieces.push(target.startsWith("#") ? { kind: "part", text: words, target: target.slice(1) } : { kind: "page", text: words, target });
      from = found.index + whole.length;
    }
    if (from < stretch.length) pieces.push({ kind: "words", text: stretch.slice(from) });
    return pieces;
  });
}
