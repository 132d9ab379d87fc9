import katex from "katex";
import { memo } from "react";

const cache = new Map<string, string>();

/** Longest text that is typeset; anything longer is no face. */
const LONGEST = 4000;

function typeset(tex: string, display: boolean): string {
  try {
    if (tex.length <= LONGEST)
      return katex.renderToString(tex, { throwOnError: false, displayMode: display, output: "html", maxExpand: 500, maxSize: 20 });
  } catch {
    // What nests too deep overflows the typesetter; it is shown as it is written.
  }
  const text = document.createElement("span");
  text.textContent = tex.slice(0, 60);
  return text.outerHTML;
}

/** Typesets mathematics; each distinct text is rendered once. */
export function mathHtml(tex: string, display = false): string {
  const key = (display ? "d" : "i") + tex;
  let html = cache.get(key);
  if (html === undefined) {
    html = typeset(tex, display);
    if (cache.size > 2000) cache.clear();
    cache.set(key, html);
  }
  return html;
}

export const MathText = memo(function MathText({ tex, display = false }: { tex: string; display?: boolean }) {
  return <span dangerouslySetInnerHTML={{ __html: mathHtml(tex, display) }} />;
});
