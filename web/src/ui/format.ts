import type { Schemas } from "../api/client";

const SUPERSCRIPTS = "⁰¹²³⁴⁵⁶⁷⁸⁹";

const raised = (power: string) => [...power].map((c) => (c === "-" ? "⁻" : SUPERSCRIPTS[Number(c)])).join("");

/** Four significant figures; tiny and huge numbers with a power of ten. */
export function format(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  const size = Math.abs(value);
  if (size >= 1e6 || size < 1e-4)
    return value
      .toExponential(digits - 1)
      .replace(/e\+?(-?\d+)/, (_, power: string) => `·10${raised(power)}`)
      .replace(/\.?0+·/, "·")
      .replace("-", "−");
  return String(Number(value.toPrecision(digits))).replace("-", "−");
}

/** A signal's value as it is shown, without its unit. */
export function told(value: number | undefined, info: Schemas["SignalView"] | undefined, size = false): string {
  if (value === undefined) return "";
  if (info?.isBoolean) return value ? "true" : "false";
  const shown = value * (info?.scale ?? 1) + (info?.shift ?? 0);
  return format(size ? Math.abs(shown) : shown);
}
