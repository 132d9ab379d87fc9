import type { Pen } from "./pen";

const escaped = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll('"', "&quot;");

const short = (n: number) => String(Math.round(n * 100) / 100);

interface State {
  x: number;
  y: number;
  clip: string;
}

/** Writes what is drawn as an SVG, with lines as lines and text as text. */
export class SvgPen implements Pen {
  font = "11px sans-serif";
  fillStyle: Pen["fillStyle"] = "#000000";
  strokeStyle: Pen["strokeStyle"] = "#000000";
  lineWidth = 1;
  lineJoin: CanvasLineJoin = "miter";
  textAlign: CanvasTextAlign = "start";
  globalAlpha = 1;

  private readonly written: string[] = [];
  private readonly clips: string[] = [];
  private readonly before: State[] = [];
  private at: State = { x: 0, y: 0, clip: "" };
  private path = "";
  private dash: readonly number[] = [];

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly ruler: Pick<Pen, "font" | "measureText">,
  ) {}

  toString(): string {
    const { width, height } = this;
    return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<defs>${this.clips.join("")}</defs>
${this.written.join("\n")}
</svg>
`;
  }

  save(): void {
    this.before.push({ ...this.at });
  }

  restore(): void {
    this.at = this.before.pop() ?? this.at;
  }

  translate(x: number, y: number): void {
    this.at = { ...this.at, x: this.at.x + x, y: this.at.y + y };
  }

  beginPath(): void {
    this.path = "";
  }

  moveTo(x: number, y: number): void {
    this.path += `M${this.point(x, y)}`;
  }

  lineTo(x: number, y: number): void {
    this.path += `L${this.point(x, y)}`;
  }

  rect(x: number, y: number, width: number, height: number): void {
    this.path += `M${this.point(x, y)}h${short(width)}v${short(height)}h${short(-width)}z`;
  }

  roundRect(x: number, y: number, width: number, height: number): void {
    this.rect(x, y, width, height);
  }

  /** A whole circle, which is all that plots draw. */
  arc(x: number, y: number, radius: number): void {
    const r = short(radius);
    this.path += `M${this.point(x - radius, y)}a${r} ${r} 0 1 0 ${short(2 * radius)} 0a${r} ${r} 0 1 0 ${short(-2 * radius)} 0z`;
  }

  clip(): void {
    const id = `c${this.clips.length}`;
    this.clips.push(`<clipPath id="${id}"><path d="${this.path}"/></clipPath>`);
    this.at = { ...this.at, clip: ` clip-path="url(#${id})"` };
  }

  setLineDash(dash: Iterable<number>): void {
    this.dash = [...dash];
  }

  stroke(): void {
    if (this.path === "") return;
    const dash = this.dash.length > 0 ? ` stroke-dasharray="${this.dash.join(" ")}"` : "";
    this.write(
      `<path d="${this.path}" fill="none" stroke="${String(this.strokeStyle)}" stroke-width="${this.lineWidth}" stroke-linejoin="${this.lineJoin}"${dash}`,
    );
  }

  fill(): void {
    this.write(`<path d="${this.path}" fill="${String(this.fillStyle)}"`);
  }

  fillRect(x: number, y: number, width: number, height: number): void {
    this.path = "";
    this.rect(x, y, width, height);
    this.fill();
  }

  strokeRect(x: number, y: number, width: number, height: number): void {
    this.path = "";
    this.rect(x, y, width, height);
    this.stroke();
  }

  /** The paper stays as it is. */
  clearRect(): void {
    return;
  }

  fillText(text: string, x: number, y: number): void {
    const anchor = this.textAlign === "center" ? "middle" : this.textAlign === "right" || this.textAlign === "end" ? "end" : "start";
    this.write(
      `<text x="${short(this.at.x + x)}" y="${short(this.at.y + y)}" text-anchor="${anchor}" fill="${String(this.fillStyle)}" style="font:${escaped(this.font)}"`,
      `${escaped(text)}</text>`,
    );
  }

  measureText(text: string): TextMetrics {
    this.ruler.font = this.font;
    return this.ruler.measureText(text);
  }

  private write(begun: string, inside = ""): void {
    const opacity = this.globalAlpha < 1 ? ` opacity="${short(this.globalAlpha)}"` : "";
    this.written.push(`${begun}${opacity}${this.at.clip}${inside === "" ? "/>" : `>${inside}`}`);
  }

  private point(x: number, y: number): string {
    return `${short(this.at.x + x)} ${short(this.at.y + y)}`;
  }
}
