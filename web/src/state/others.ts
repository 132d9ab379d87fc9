/** Colours of others, told apart from those of selection and verdicts. */
const colors = ["#4a6a8a", "#7a4e8c", "#0f7f82", "#7c5332", "#54606b"];

/** The same colour for a window as long as it is there. */
export function colorOfOther(window: string): string {
  let sum = 0;
  for (const c of window) sum = (31 * sum + c.charCodeAt(0)) >>> 0;
  return colors[sum % colors.length] as string;
}

/** A name as one or two letters. */
export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((w) => w[0]?.toUpperCase() ?? "")
    .filter((_, i, all) => i === 0 || i === all.length - 1)
    .join("") || "?";
