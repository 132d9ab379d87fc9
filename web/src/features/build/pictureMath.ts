import { mathjax } from "mathjax-full/js/mathjax.js";
import { TeX } from "mathjax-full/js/input/tex.js";
import { SVG } from "mathjax-full/js/output/svg.js";
import { liteAdaptor } from "mathjax-full/js/adaptors/liteAdaptor.js";
import { RegisterHTMLHandler } from "mathjax-full/js/handlers/html.js";
import "mathjax-full/js/input/tex/ams/AmsConfiguration.js";
import "mathjax-full/js/input/tex/textmacros/TextMacrosConfiguration.js";

/** Mathematics as outlines, for drawings that leave the page: no font and no style sheet goes with them. */

const adaptor = liteAdaptor();
RegisterHTMLHandler(adaptor);
const page = mathjax.document("", {
  InputJax: new TeX({ packages: ["base", "ams", "textmacros"] }),
  OutputJax: new SVG({ fontCache: "none" }),
});

/** One ex of the typesetter's, at the size that faces have on the page. */
const EX = 6.4;

export interface Outline {
  width: number;
  height: number;
  viewBox: string;
  inner: string;
}

/** A formula as the content of an svg element; null for one that cannot be set. */
export function outlineOf(tex: string): Outline | null {
  try {
    const node = adaptor.firstChild(page.convert(tex, { display: true }) as never) as never;
    const [width, height] = [adaptor.getAttribute(node, "width"), adaptor.getAttribute(node, "height")].map((v) => parseFloat(v) * EX);
    if (!width || !height) return null;
    return { width, height, viewBox: adaptor.getAttribute(node, "viewBox"), inner: adaptor.innerHTML(node) };
  } catch {
    return null;
  }
}
