interface Place {
  x: number;
  y: number;
}

/** The arc of a circle from one point through a second to a third; a broken line where the three lie on one. */
export function arcPath(a: Place, b: Place, c: Place): string {
  const twice = 2 * ((b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y));
  if (Math.abs(twice) < 1e-9) return `M${a.x} ${a.y}L${b.x} ${b.y}L${c.x} ${c.y}`;
  const [p, q] = [(b.x - a.x) ** 2 + (b.y - a.y) ** 2, (c.x - a.x) ** 2 + (c.y - a.y) ** 2];
  const x = ((c.y - a.y) * p - (b.y - a.y) * q) / twice;
  const y = ((b.x - a.x) * q - (c.x - a.x) * p) / twice;
  const radius = Math.hypot(x, y);
  // The arc is the longer one where the middle of the circle and the second point lie on one side of the chord.
  const side = (c.x - a.x) * y - (c.y - a.y) * x;
  const isLong = side * -twice > 0;
  return `M${a.x} ${a.y}A${radius} ${radius} 0 ${isLong ? 1 : 0} ${twice > 0 ? 1 : 0} ${c.x} ${c.y}`;
}
