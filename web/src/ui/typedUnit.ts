/** Units of values as people type them in fields. */

const NUMBER = String.raw`[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?`;
const WITH_UNIT = new RegExp(`^\\s*${NUMBER}(?:\\s*([a-zµ°%Ω][^\\s*+(),]*)|\\s+(1/[^\\s*+(),]+))\\s*$`, "i");
const BARE = new RegExp(`^\\s*${NUMBER}\\s*$`, "i");

/** The unit behind a number; null for a bare number and for anything else. */
export function unitOf(text: string): string | null {
  const match = BARE.test(text) ? null : WITH_UNIT.exec(text);
  return match ? (match[1] ?? match[2] ?? null) : null;
}

/** What a text means that is typed over another: a bare number keeps the unit that stood there. */
export function typedOver(before: string, typed: string): string {
  const unit = unitOf(before);
  return unit !== null && BARE.test(typed) ? `${typed.trim()} ${unit}` : typed;
}
