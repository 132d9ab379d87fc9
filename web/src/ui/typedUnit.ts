/** Units of values as people type them in fields. */

const NUMBER = String.raw`[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?`;
const WITH_UNIT = new RegExp(`^\\s*${NUMBER}(?:\\s*([a-zµ°%Ω][^\\s*+(),]*)|\\s+(1/[^\\s*+(),]+))\\s*$`, "i");
const BARE = new RegExp(`^\\s*${NUMBER}\\s*$`, "i");

/** The unit behind a number; null for a bare number and for anything else. */
export function unitOf(text: string): string | null {
  const match = BARE.test(text) ? null : WITH_UNIT.exec(text);
  return match ? (match[1] ?? match[2] ?? null) : null;
}

const SUPERSCRIPTS: Record<string, string> = { "2": "²", "3": "³", "4": "⁴", "-": "⁻", "1": "¹" };

/** A value with its unit as it is read: 0.08 kg·m² for what was typed as 0.08 kg.m2. */
export function shownText(text: string): string {
  const unit = unitOf(text);
  if (unit === null) return text;
  const pretty = unit
    .replace(/\./g, "·")
    .replace(/Ohm/g, "Ω")
    .replace(/deg(C|F)?/g, (_, scale?: string) => `°${scale ?? ""}`)
    .replace(
      /([a-zΩ°])(-?[1-4])(?![\d.])/gi,
      (_, letter: string, power: string) => letter + [...power].map((c) => SUPERSCRIPTS[c] ?? c).join(""),
    );
  return text.slice(0, text.lastIndexOf(unit)) + pretty;
}

/** What a text means that is typed over another: a bare number keeps the unit that stood there. */
export function typedOver(before: string, typed: string): string {
  const unit = unitOf(before);
  return unit !== null && BARE.test(typed) ? `${typed.trim()} ${unit}` : typed;
}
