import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { tags } from "@lezer/highlight";
import type { Schemas } from "../../api/client";

interface State {
  comment: boolean;
}

/** Colours the words of the equation language; what they mean is the server's business. */
export function equationLanguage(words: Schemas["LanguageWords"]) {
  const [reserved, functions, types] = [new Set(words.reserved), new Set(words.functions), new Set(words.types)];
  return StreamLanguage.define<State>({
    startState: () => ({ comment: false }),
    token(stream, state) {
      if (state.comment || stream.match("/*")) {
        state.comment = !stream.match(/^.*?\*\//);
        if (state.comment) stream.skipToEnd();
        return "comment";
      }
      if (stream.match(/^\/\/.*/)) return "comment";
      if (stream.match(/^"(?:[^"\\]|\\.)*"?/)) return "string";
      if (stream.match(/^'(?:[^'\\]|\\.)*'?/)) return "variableName";
      if (stream.match(/^\d+\.?\d*(?:[eE][+-]?\d+)?/)) return "number";
      const word = stream.match(/^[A-Za-z_]\w*/) as RegExpMatchArray | null;
      if (word) {
        if (reserved.has(word[0])) return "keyword";
        if (types.has(word[0])) return "typeName";
        return functions.has(word[0]) ? "function" : "variableName";
      }
      stream.next();
      return null;
    },
    languageData: { commentTokens: { line: "//", block: { open: "/*", close: "*/" } } },
    tokenTable: { function: tags.function(tags.variableName) },
  });
}

export const inkHighlight = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.keyword, color: "#17324d", fontWeight: "600" },
    { tag: tags.typeName, color: "#7a4e8c" },
    { tag: tags.function(tags.variableName), color: "#0f7f82" },
    { tag: tags.string, color: "#5b6e80" },
    { tag: tags.number, color: "#8a5d0f" },
    { tag: tags.comment, color: "#5f6f7d", fontStyle: "italic" },
  ]),
);
