import { painterOf, type Pen } from "../../plots/pen";
import { SvgPen } from "../../plots/svgPen";
import { download } from "../../api/download";
import { tokens } from "../../ui/tokens";

/** Pictures of plots and of whole sheets as files, drawn anew in the size that was asked for. */

export interface PictureWanted {
  form: "png" | "svg";
  width: number;
  height: number;
  /** Pixels of the file for one of the picture, along each edge; for PNG. */
  sharpness: number;
}

/** Size of titles, px. */
const TITLE = 11;

/** Attribute of tiles, whose frames and titles are drawn too. */
export const TILE = "data-tile";

export function savePicture(host: HTMLElement, name: string, { form, width, height, sharpness }: PictureWanted): void {
  const canvas = document.createElement("canvas");
  const g = canvas.getContext("2d");
  if (!g) return;
  if (form === "svg") {
    const pen = new SvgPen(width, height, g);
    draw(pen, host, width, height);
    return download(new Blob([pen.toString()], { type: "image/svg+xml" }), `${name}.svg`);
  }
  [canvas.width, canvas.height] = [Math.round(width * sharpness), Math.round(height * sharpness)];
  g.scale(sharpness, sharpness);
  draw(g, host, width, height);
  canvas.toBlob((blob) => blob && download(blob, `${name}.png`));
}

function draw(g: Pen, host: HTMLElement, width: number, height: number): void {
  g.fillStyle = tokens.surface;
  g.fillRect(0, 0, width, height);
  const around = host.getBoundingClientRect();
  // The frame of a single tile has its title half above it.
  const margin = host.hasAttribute(TILE) ? TITLE : 0;
  const frame = new DOMRect(around.x - margin, around.y - margin, around.width + 2 * margin, around.height + 2 * margin);
  const [kx, ky] = [width / frame.width, height / frame.height];
  const place = (box: DOMRect) => ({
    x: (box.left - frame.left) * kx,
    y: (box.top - frame.top) * ky,
    width: box.width * kx,
    height: box.height * ky,
  });
  for (const tile of host.hasAttribute(TILE) ? [host] : host.querySelectorAll(`[${TILE}]`)) {
    const at = place(tile.getBoundingClientRect());
    g.setLineDash([]);
    g.lineWidth = 1;
    g.strokeStyle = tokens.dashes;
    g.strokeRect(at.x, at.y, at.width, at.height);
    const title = tile.getAttribute(TILE) ?? "";
    g.font = `${TITLE}px "IBM Plex Sans", sans-serif`;
    g.fillStyle = tokens.surface;
    g.fillRect(at.x + 6, at.y - 1, g.measureText(title).width + 6, 2);
    write(g, title, at.x + 9, at.y + 4, TITLE, tokens.ink);
  }
  for (const e of elementsOf(host)) {
    const at = place(e.getBoundingClientRect());
    const painter = painterOf(e);
    if (painter) {
      g.save();
      g.translate(at.x, at.y);
      painter(g, at.width, at.height);
      g.restore();
      continue;
    }
    const style = getComputedStyle(e);
    if (e.closest("[data-kind=bands]") && isVisible(style.backgroundColor)) {
      g.fillStyle = style.backgroundColor;
      g.fillRect(at.x, at.y, at.width, at.height);
    }
    if (e.tagName === "I" && parseFloat(style.borderTopWidth) > 0) {
      g.strokeStyle = style.borderTopColor;
      g.lineWidth = parseFloat(style.borderTopWidth);
      g.setLineDash(style.borderTopStyle === "dashed" ? [5, 3] : style.borderTopStyle === "dotted" ? [2, 2] : []);
      g.beginPath();
      g.moveTo(at.x, at.y);
      g.lineTo(at.x + at.width, at.y);
      g.stroke();
    }
    for (const node of e.childNodes) {
      const text = node.nodeType === Node.TEXT_NODE ? node.textContent?.trim() : "";
      if (!text) continue;
      const range = document.createRange();
      range.selectNodeContents(node);
      const box = range.getBoundingClientRect();
      const size = parseFloat(style.fontSize);
      // Texts for those who listen take no room.
      if (box.width > 1) write(g, text, (box.left - frame.left) * kx, (box.bottom - frame.top - 0.25 * size) * ky, size, style.color);
    }
  }
}

function write(g: Pen, text: string, x: number, y: number, size: number, color: string): void {
  g.font = `${size}px "IBM Plex Sans", sans-serif`;
  g.fillStyle = color;
  g.textAlign = "left";
  g.fillText(text, x, y);
}

/** Whatever stands in the tiles, from the back to the front; buttons about a tile are not part of its picture. */
const elementsOf = (host: HTMLElement): HTMLElement[] =>
  [...host.querySelectorAll<HTMLElement>("[data-kind] *")].filter((e) => e.getClientRects().length > 0);

const isVisible = (color: string) => color !== "transparent" && !/rgba\(.*,\s*0\)$/.test(color);
