/** Pictures of plots as files. A plot is drawn on canvases, so an SVG holds them as pictures with the texts beside them as text. */

/** Pixels of a picture for one of the screen. */
const SHARPNESS = 3;

const FONT = "IBM Plex Sans, sans-serif";

export function savePlot(host: HTMLElement | null, name: string, form: "png" | "svg"): void {
  if (!host) return;
  const { width, height } = host.getBoundingClientRect();
  if (form === "svg") return download(new Blob([toSvg(host, width, height)], { type: "image/svg+xml" }), `${name}.svg`);
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [width * SHARPNESS, height * SHARPNESS];
  const g = canvas.getContext("2d");
  if (!g) return;
  g.scale(SHARPNESS, SHARPNESS);
  g.fillStyle = "#ffffff";
  g.fillRect(0, 0, width, height);
  const at = host.getBoundingClientRect();
  for (const c of host.querySelectorAll("canvas")) {
    const box = c.getBoundingClientRect();
    g.drawImage(c, box.left - at.left, box.top - at.top, box.width, box.height);
  }
  for (const t of textsOf(host)) {
    g.font = `${t.size}px ${FONT}`;
    g.fillStyle = t.color;
    g.fillText(t.text, t.x, t.y);
  }
  canvas.toBlob((blob) => blob && download(blob, `${name}.png`));
}

/** Texts that stand beside the canvases, where they stand. */
function textsOf(host: HTMLElement): { text: string; x: number; y: number; size: number; color: string }[] {
  const at = host.getBoundingClientRect();
  const walker = document.createTreeWalker(host, NodeFilter.SHOW_TEXT);
  const found = [];
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const text = node.textContent?.trim();
    const parent = node.parentElement;
    if (!text || !parent) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const box = range.getBoundingClientRect();
    const style = getComputedStyle(parent);
    const size = parseFloat(style.fontSize);
    if (box.width > 0) found.push({ text, x: box.left - at.left, y: box.bottom - at.top - 0.25 * size, size, color: style.color });
  }
  return found;
}

const escaped = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");

function toSvg(host: HTMLElement, width: number, height: number): string {
  const at = host.getBoundingClientRect();
  const images = [...host.querySelectorAll("canvas")].map((c) => {
    const box = c.getBoundingClientRect();
    return `<image x="${box.left - at.left}" y="${box.top - at.top}" width="${box.width}" height="${box.height}" href="${c.toDataURL()}"/>`;
  });
  const texts = textsOf(host).map(
    (t) => `<text x="${t.x}" y="${t.y}" font-size="${t.size}" font-family="${FONT}" fill="${t.color}">${escaped(t.text)}</text>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<rect width="100%" height="100%" fill="#ffffff"/>
${[...images, ...texts].join("\n")}
</svg>
`;
}

function download(blob: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
