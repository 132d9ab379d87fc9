/** Four significant figures; tiny and huge numbers with a power of ten. */
export function format(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  const size = Math.abs(value);
  if (size >= 1e6 || size < 1e-4)
    return value
      .toExponential(digits - 1)
      .replace(/e\+?(-?\d+)/, "·10^$1")
      .replace(/\.?0+·/, "·");
  return String(Number(value.toPrecision(digits))).replace("-", "−");
}
