import katex from "katex";
import { memo } from "react";

const cache = new Map<string, string>();

/** Typesets mathematics; each distinct text is rendered once. */
export function mathHtml(tex: string, display = false): string {
  const key = (display ? "d" : "i") + tex;
  let html = cache.get(key);
  if (html === undefined) {
    html = katex.renderToString(tex, { throwOnError: false, displayMode: display, output: "html" });
    if (cache.size > 2000) cache.clear();
    cache.set(key, html);
  }
  return html;
}

export const MathText = memo(function MathText({ tex, display = false }: { tex: string; display?: boolean }) {
  return <span dangerouslySetInnerHTML={{ __html: mathHtml(tex, display) }} />;
});
