import { renderToStaticMarkup } from "react-dom/server";
import { frameOf, LevelPicture } from "../../canvas/LevelPicture";
import { RouteCache } from "../../canvas/routes";
import type { PartView } from "../../api/client";
import { notifyError, useBench } from "../../state/bench";
import { download } from "../../api/download";
import { tokens } from "../../ui/tokens";
import greek from "@fontsource/ibm-plex-sans/files/ibm-plex-sans-greek-400-normal.woff2?url";
import latin from "@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-400-normal.woff2?url";
import { outlineOf } from "./pictureMath";

/** The level at hand as a drawing that stands by itself: as SVG, PNG or PDF. */

export type PictureForm = "svg" | "png" | "pdf";

/** Pixels of a PNG for each of the diagram. */
const DENSITY = 2;

/** The widest and highest PNG that browsers draw. */
const MOST_PIXELS = 12_000;

function svgText(): { text: string; width: number; height: number } {
  const { diagram, view } = useBench.getState();
  const routes = new RouteCache().routes(diagram, view.parts, null);
  const frame = frameOf(diagram, view.parts, routes);
  const text = renderToStaticMarkup(<LevelPicture diagram={diagram} views={view.parts} routes={routes} face={face} note={plain} />);
  return { text, width: frame.width, height: frame.height };
}

/** A face as outlines, made smaller where it is larger than its plate. */
function face(view: PartView, width: number, height: number) {
  const outline = outlineOf(`\\displaystyle ${view.face}`);
  if (!outline) return null;
  const scale = Math.min(1, (width - 8) / outline.width, (height - 6) / outline.height);
  const [w, h] = [outline.width * scale, outline.height * scale];
  return (
    <svg
      x={(width - w) / 2}
      y={(height - h) / 2}
      width={w}
      height={h}
      viewBox={outline.viewBox}
      color={tokens.ink}
      fill={tokens.ink}
      dangerouslySetInnerHTML={{ __html: outline.inner.replaceAll("currentColor", tokens.ink) }}
    />
  );
}

/** A note without the marks of its mathematics. */
const plain = (text: string) => text.replaceAll("$", "");

/** The letters of the page, which a picture that leaves it takes along. */
async function letters(): Promise<string> {
  const faces = await Promise.all(
    [latin, greek].map(async (url) => {
      const bytes = new Uint8Array(await (await fetch(url)).arrayBuffer());
      const packed = btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(""));
      const range = url === greek ? "unicode-range:U+0370-03FF;" : "";
      return `@font-face{font-family:"IBM Plex Sans";${range}src:url(data:font/woff2;base64,${packed}) format("woff2")}`;
    }),
  );
  return `<style>${faces.join("")}</style>`;
}

/** A drawing with its letters in it. */
const withLetters = (text: string, style: string) => text.replace(/>/, `>${style}`);

async function png({ text, width, height }: ReturnType<typeof svgText>): Promise<Blob> {
  const image = new Image();
  image.src = URL.createObjectURL(new Blob([text], { type: "image/svg+xml" }));
  await image.decode();
  const density = Math.min(DENSITY, MOST_PIXELS / width, MOST_PIXELS / height);
  const canvas = window.document.createElement("canvas");
  [canvas.width, canvas.height] = [Math.ceil(width * density), Math.ceil(height * density)];
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  URL.revokeObjectURL(image.src);
  return new Promise((resolve, reject) =>
    canvas.toBlob((b) => (b ? resolve(b) : reject(new Error("The picture is too large."))), "image/png"),
  );
}

async function pdf({ text, width, height }: ReturnType<typeof svgText>): Promise<Blob> {
  const [{ jsPDF }] = await Promise.all([import("jspdf"), import("svg2pdf.js")]);
  const document = new jsPDF({ unit: "pt", format: [width, height], orientation: width > height ? "landscape" : "portrait" });
  const holder = window.document.createElement("div");
  holder.innerHTML = text;
  const svg = holder.firstElementChild;
  if (!svg) throw new Error("There is nothing to draw.");
  await document.svg(svg, { x: 0, y: 0, width, height });
  return document.output("blob");
}

/** Writes the level as a file. */
export async function savePicture(form: PictureForm): Promise<void> {
  const { diagram } = useBench.getState();
  try {
    const drawn = svgText();
    const lettered = form === "pdf" ? drawn : { ...drawn, text: withLetters(drawn.text, await letters()) };
    const blob =
      form === "svg" ? new Blob([lettered.text], { type: "image/svg+xml" }) : form === "png" ? await png(lettered) : await pdf(drawn);
    download(blob, `${diagram.name}.${form}`);
  } catch (e) {
    notifyError(`The picture could not be made: ${(e as Error).message}`);
  }
}
