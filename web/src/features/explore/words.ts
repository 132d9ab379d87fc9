import { format } from "../../ui/format";

/** How long something will take, in words. */
export function left(seconds: number): string {
  if (seconds < 1) return "under 1 s";
  if (seconds < 90) return `${Math.round(seconds)} s`;
  if (seconds < 5400) return `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`;
  return `${format(seconds / 3600, 2)} h`;
}

/** A share in percent. */
export const percent = (share: number): string => `${format(100 * share, 3)} %`;
