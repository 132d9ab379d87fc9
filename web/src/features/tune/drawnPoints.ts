/** A point of a drawn loop: rad/s and dB. */
export interface DrawnPoint {
  frequency: number;
  gain: number;
}

const FASTER = 1.05;

export const moved = (points: readonly DrawnPoint[], index: number, to: DrawnPoint): DrawnPoint[] =>
  points.map((p, i) => (i === index ? to : p));

/** What a key makes of the points while one of them has it; null for keys that mean something else. */
export function byKey(points: readonly DrawnPoint[], index: number, key: string): DrawnPoint[] | null {
  const p = points[index];
  if (!p) return null;
  switch (key) {
    case "ArrowUp":
      return moved(points, index, { ...p, gain: p.gain + 1 });
    case "ArrowDown":
      return moved(points, index, { ...p, gain: p.gain - 1 });
    case "ArrowRight":
      return moved(points, index, { ...p, frequency: p.frequency * FASTER });
    case "ArrowLeft":
      return moved(points, index, { ...p, frequency: p.frequency / FASTER });
    case "Delete":
      return points.filter((_, i) => i !== index);
    default:
      return null;
  }
}

/** A course to begin with: through one at a frequency, falling with its inverse for a decade on either side. */
export const usual = (bandwidth: number): DrawnPoint[] => [
  { frequency: bandwidth / 10, gain: 20 },
  { frequency: bandwidth, gain: 0 },
  { frequency: bandwidth * 10, gain: -20 },
];
